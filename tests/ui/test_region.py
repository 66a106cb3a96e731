"""The window in a region of its own: a decimal comma, groups of three, days and money as they are written there."""

from copy import deepcopy

import pytest
from PySide6.QtCore import QLocale, Qt
from PySide6.QtWidgets import QApplication
from tests.ui.geometry import PLAIN_NUMBER, settle

from ribpatch.core.days import days_of
from ribpatch.core.edits import set_value
from ribpatch.core.log_edits import log_entry
from ribpatch.core.numerals import PLAIN, use_money, use_numerals
from ribpatch.core.plan import plan
from ribpatch.formats.days_ics import days_ics
from ribpatch.formats.log_csv import log_text
from ribpatch.formats.order_xlsx import order_workbook
from ribpatch.formats.shopping_csv import shopping_text
from ribpatch.library.kept import kept_demo_job
from ribpatch.ui.region import numerals_of, usual_currency


@pytest.fixture
def region(bare):
    """The demo job in a region, with nothing worked out of it before."""

    def begin(name):
        locale = QLocale(name)
        use_numerals(numerals_of(locale))
        bare.session.currency = bare.settings.currency or usual_currency(locale)
        bare.show_new_job(kept_demo_job(), "open")
        QApplication.processEvents()
        return bare

    yield begin
    use_numerals(PLAIN)
    use_money("")


@pytest.mark.parametrize(
    ("name", "order", "group", "decimal", "sign"),
    [
        ("de_DE", "dmy", ".", ",", "€"),
        ("fr_FR", "dmy", "\u00a0", ",", "€"),
        ("en_US", "mdy", ",", ".", "$"),
        ("sv_SE", "ymd", "\u00a0", ",", "kr"),
        ("de_CH", "dmy", "'", ".", "CHF"),
        ("es_ES", "dmy", ".", ",", "€"),
    ],
)
def test_regions_as_the_system_tells_them(name, order, group, decimal, sign):
    made = numerals_of(QLocale(name))
    assert (made.dates, made.group, made.decimal, usual_currency(QLocale(name))) == (order, group, decimal, sign)
    assert made.least_grouped == (5 if name == "es_ES" else 4)


def test_no_region_writes_as_files_do():
    assert numerals_of(QLocale.c()) is PLAIN and usual_currency(QLocale.c()) == ""


def test_sizes_are_shown_and_read_with_a_decimal_comma(region, type_in):
    window = region("de_DE")
    window.session.go("z1", "boat")
    boat = window.showing.stage("boat")
    by_name = {f.edit.accessibleName(): f for f in boat._bound if hasattr(f, "edit")}
    load = by_name["Displacement"]
    assert load.edit.text() == "3.400 kg"
    type_in(load.edit, "3.450,5 kg")
    assert window.session.job.boat.displacement.si == 3450.5 and "3.450" in load.note.text()
    length = by_name["Length overall"]
    type_in(length.edit, "9,75 m")
    assert window.session.job.boat.length.si == 9.75 and length.edit.text() == "9,75 m"
    type_in(length.edit, "acht")
    assert window.session.job.boat.length.si == 9.75


def test_corners_read_back_with_a_decimal_comma(region, qtbot):
    window = region("de_DE")
    window.session.go("z4", "boat")
    window.session.apply(set_value(("boat", "name"), "Moorhen"))
    outline = window.showing.stage("boat").outline
    outline.corners.setPlainText("0 0\n1000,5; 0\n1000,5 700,25\n0, 700,25")
    qtbot.mouseClick(outline.use_corners, Qt.MouseButton.LeftButton)
    assert window.session.zone.outline == ((0, 0), (1.0005, 0), (1.0005, 0.70025), (0, 0.70025))
    assert "1000,5" in outline.corners.toPlainText()


def test_money_carries_its_sign_everywhere_and_is_set_once(region, type_in):
    window = region("de_DE")
    window.session.go("z1", "order")
    settle()
    window.tasks.wait()
    settle()
    assert "€" in window.work.ledger.findChildren(type(window.work.ledger.totals["cost.total"]))[0].parent().totals["cost.total"].accessibleName()  # fmt: skip
    items = window.showing.benches["order_bench"].items
    assert items.item(items.rowCount() - 2, 6).text().endswith("€") and "€ per" in items.item(0, 5).text()
    field = next(f for f in window.showing.stage("order")._bound if f._path_of() == ("buying", "currency"))
    type_in(field.edit, "CHF")
    settle()
    assert items.item(items.rowCount() - 2, 6).text().endswith("CHF")
    assert window.settings.currency == "CHF"
    window.session.stack.setClean()
    window.show_new_job(kept_demo_job(), "order")
    assert window.session.job.buying.currency == ""
    assert "CHF" in window.session.plan.by_id["cost.total"].shown("metric")


def test_days_are_typed_and_shown_as_the_region_writes_them_and_kept_as_files_do(region, type_in):
    window = region("de_DE")
    window.session.go("z1", "order")
    field = next(f for f in window.showing.stage("order")._bound if f._path_of() == ("buying", "wanted"))
    type_in(field.edit, "24.12.2026")
    assert window.session.job.buying.wanted == "2026-12-24" and field.edit.text() == "24.12.2026"
    use_numerals(numerals_of(QLocale("en_US")))
    window.showing.stage("order").refresh(type("Change", (), {"old": None, "new": window.session.plan})())
    assert field.edit.text() == "12/24/2026"


def test_files_are_plain_in_any_region(region):
    window = region("C")
    said = shopping_text(window.session.plan), window.session.job
    job = log_entry(window.session.job, "said", at="2026-12-01T08:00", who="yard hand", note="begun").change(said[1])
    from ribpatch.core.logged_days import logged_days

    def log():
        return log_text(job, logged_days(plan(job, window.session.shelf), "2026-12-01", ""))

    first = log()
    use_numerals(numerals_of(QLocale("de_DE")))
    assert shopping_text(window.session.plan) == said[0] and log() == first


def test_a_file_written_plainly_leaves_no_plain_words_in_the_window(region):
    window = region("de_DE")
    first, shelf = window.session.plan, window.session.shelf
    shopping_text(first)
    order_workbook(first)
    days = days_of(first, "2026-12-01")
    days_ics(days, days.first, "Moorhen")
    fresh = plan(deepcopy(first.job), shelf)
    assert [(f.formula, f.warnings, f.inputs) for f in first.figures] == [(f.formula, f.warnings, f.inputs) for f in fresh.figures]  # fmt: skip
    assert [str(n) for n in first.all_notices] == [str(n) for n in fresh.all_notices]
    assert any("8,05 m" in i.note for f in first.figures for i in f.inputs)


def test_what_the_region_should_have_written_would_be_found():
    assert all(PLAIN_NUMBER.search(t) for t in ("1.5 m", "3.4567", "on 2026-11-30, then"))
    assert not any(PLAIN_NUMBER.search(t) for t in ("1.234 kg", "1,5 m", "30.11.2026", "0.1.0", "9.600,5", "12:30"))
