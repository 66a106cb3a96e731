"""What is remembered between runs, and what becomes of it where somebody edited it."""

import pytest

from ribpatch.ui.settings import MOST_RECENT, MOST_SCORES, Settings


@pytest.fixture
def ini(tmp_path):
    return tmp_path / "config" / "window.ini"


def again(settings, ini):
    """The settings as the next run finds them."""
    settings.sync()
    return Settings(ini)


def test_a_first_run_has_the_usual_settings(ini):
    fresh = Settings(ini)
    assert (fresh.system, fresh.theme, fresh.recent, fresh.best_scores) == ("metric", "light", [], [])
    assert fresh.mapping("x,y") == {} and fresh.geometry.isEmpty()


def test_units_and_theme_last_to_the_next_run(ini):
    settings = Settings(ini)
    settings.system, settings.theme = "us", "dark"
    later = again(settings, ini)
    assert (later.system, later.theme) == ("us", "dark")


def test_recent_jobs_are_newest_first_each_once_and_only_those_that_are_there(ini, tmp_path):
    settings = Settings(ini)
    paths = [tmp_path / f"job{n}.ribpatch" for n in range(MOST_RECENT + 2)]
    for path in paths:
        path.touch()
        settings.add_recent(path)
    settings.add_recent(paths[-2])
    later = again(settings, ini)
    assert later.recent[:2] == [paths[-2], paths[-1]] and len(later.recent) == MOST_RECENT
    paths[-2].unlink()
    assert later.recent[0] == paths[-1]


@pytest.mark.parametrize("count", [1, 3, MOST_SCORES + 4])
def test_the_best_scores_are_kept_highest_first(ini, count):
    settings = Settings(ini)
    for n in range(count):
        settings.add_score(10.0 + (7 * n) % count)
    kept = again(settings, ini).best_scores
    assert kept == sorted(kept, reverse=True) and len(kept) == min(count, MOST_SCORES)
    assert kept[0] == 10.0 + count - 1


def test_the_columns_of_a_file_are_remembered_for_its_header_alone(ini):
    settings = Settings(ini)
    header = "a/b,[c]=d,ü"  # the store's own marks
    settings.keep_mapping(header, {"x": "a/b", "kind": "=moisture"})
    settings.keep_mapping("a,b", {"x": "a"})
    later = again(settings, ini)
    assert later.mapping(header) == {"x": "a/b", "kind": "=moisture"}
    assert later.mapping("a,b") == {"x": "a"} and later.mapping("a,c") == {}


def test_a_file_edited_by_hand_does_no_harm(ini):
    settings = Settings(ini)
    settings.keep_mapping("a,b", {"x": "a"})
    settings.add_score(55.0)
    settings.sync()
    text = ini.read_text()
    ini.write_text(
        text.replace("55.00", "fifty, 61.5, nan").replace("{", "<") + "\n[General]\ntheme=plaid\nunits=ells\n"
    )
    later = Settings(ini)
    assert later.best_scores == [61.5] and later.mapping("a,b") == {}
    assert (later.system, later.theme) == ("metric", "light")


def test_a_folder_that_cannot_be_written_only_means_that_nothing_lasts(tmp_path):
    blocked = tmp_path / "file"
    blocked.write_text("in the way")
    settings = Settings(blocked / "window.ini")
    settings.theme = "dark"
    settings.add_score(12.0)
    settings.sync()
    assert blocked.read_text() == "in the way" and settings.best_scores == [12.0]
