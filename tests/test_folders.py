"""Where the program keeps what is not a job."""

from pathlib import Path

import pytest

from ribpatch.digests import digest_of
from ribpatch.folders import user_folder


@pytest.mark.parametrize(
    ("what", "usual"),
    [("CONFIG", ".config"), ("STATE", ".local/state"), ("DATA", ".local/share"), ("CACHE", ".cache")],
)
def test_folders_are_where_the_environment_says_or_where_they_usually_are(monkeypatch, tmp_path, what, usual):
    monkeypatch.setenv("HOME", str(tmp_path))
    for relative in ("", "not/absolute"):
        monkeypatch.setenv(f"XDG_{what}_HOME", relative)
        assert user_folder(what) == tmp_path / usual / "ribpatch"
    monkeypatch.delenv(f"XDG_{what}_HOME")
    assert user_folder(what) == tmp_path / usual / "ribpatch"
    monkeypatch.setenv(f"XDG_{what}_HOME", "/somewhere/else")
    assert user_folder(what) == Path("/somewhere/else/ribpatch")


def test_a_digest_is_the_published_one():
    # FIPS 180-4: SHA-256 of "abc".
    assert digest_of(b"abc", 64) == "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"
    assert digest_of(b"abc", 16) == "ba7816bf8f01cfea"
