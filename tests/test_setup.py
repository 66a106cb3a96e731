"""What the scripts do outside Python: set-up stops where a library is missing, and the menu entry takes any path."""

import os
import subprocess
from pathlib import Path

import pytest

SCRIPTS = Path(__file__).parents[1] / "scripts"


def unescaped(value):
    """The argument that a desktop reads from an Exec value: the file's own escapes first, then the quotes."""
    text = value.replace("\\\\", "\0").replace("\0", "\\")
    assert text.startswith('"')
    out, at = "", 1
    while text[at] != '"':
        at += text[at] == "\\"
        out += text[at]
        at += 1
    return out.replace("%%", "%"), text[at + 1 :]


@pytest.mark.parametrize("folder", ["plain", "with space", 'a"b', "50%", "a&b|c", "$HOME`x`", "back\\slash"])
def test_the_menu_entry_names_the_command_whatever_its_path(tmp_path, folder):
    command = f"/opt/{folder}/ribpatch"
    env = {**os.environ, "XDG_DATA_HOME": str(tmp_path)}
    subprocess.run(["sh", SCRIPTS / "install-desktop", command], env=env, check=True, capture_output=True)
    entry = (tmp_path / "applications" / "ribpatch.desktop").read_text().splitlines()
    lines = [row for row in entry if row.startswith("Exec=")]
    assert [unescaped(line.removeprefix("Exec=")) for line in lines] == [(command, " %F"), (command, " --demo")]


def pretend(folder, **tools):
    for name, body in tools.items():
        path = folder / name.replace("_", "-")
        path.write_text(f"#!/bin/sh\n{body}\n")
        path.chmod(0o755)
    return {**os.environ, "PATH": f"{folder}:{os.environ['PATH']}"}


HAS_ALL = "echo install ok installed"
LACKS = 'case "$*" in *{name}*) exit 1;; esac; echo install ok installed'


@pytest.mark.parametrize(
    ("dpkg", "who", "apt", "code", "says"),
    [
        (HAS_ALL, 1000, "exit 1", 0, ""), (LACKS.format(name="libxcb-cursor0"), 1000, "exit 1", 1, "sudo apt-get install libxcb-cursor0"),
        (LACKS.format(name="xvfb"), 1000, "exit 1", 0, "sudo apt-get install xvfb"), (LACKS.format(name="libglib2.0-0"), 0, "exit 0", 0, ""),
        (LACKS.format(name="libwayland-cursor0"), 0, "exit 100", 1, "could not install: libwayland-cursor0"),
    ],
)  # fmt: skip
def test_set_up_goes_on_only_where_the_libraries_are_there(tmp_path, dpkg, who, apt, code, says):
    env = pretend(tmp_path, dpkg_query=dpkg, id=f"echo {who}", apt_get=apt)
    run = subprocess.run(["sh", SCRIPTS / "system-libraries"], env=env, capture_output=True, text=True)
    assert run.returncode == code and says in run.stdout
