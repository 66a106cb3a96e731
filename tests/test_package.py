"""What ships beside the code: menu entry, icons, manual page, completion, lock, notices, fonts that have every sign."""

import ast
import os
import re
import shutil
import subprocess
import tarfile
import tomllib
import zipfile
from importlib.metadata import distribution
from io import BytesIO
from pathlib import Path
from xml.etree import ElementTree

import pytest
from fontTools.ttLib import TTFont
from packaging.requirements import Requirement
from packaging.version import Version
from PIL import Image
from pypdf import PdfReader

from ribpatch import __main__, __version__, resources
from ribpatch.cli.commands import _parser
from ribpatch.cli.helps import SHELLS, commands_of, completion, man_page
from ribpatch.report.page import built, fonts, paragraph
from ribpatch.ui.about import about_html, packages

ROOT = Path(__file__).parents[1]
PROJECT = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
LOCK = (ROOT / "requirements.lock").read_text()
LOCKED = dict(re.findall(r"^([^\s#=]+)==([^\s\\]+)", LOCK, re.M))


def plain(name):
    return re.sub(r"[-_.]+", "-", name).lower()


# ---- packages ----


def test_every_dependency_has_a_lower_and_an_upper_bound_that_the_lock_keeps():
    pinned = {plain(name): version for name, version in LOCKED.items()}
    for text in (*PROJECT["dependencies"], *PROJECT["optional-dependencies"]["dev"]):
        need = Requirement(text)
        signs = {s.operator for s in need.specifier}
        assert signs == {"=="} or {">=", "<"} <= signs, text
        assert Version(pinned[plain(need.name)]) in need.specifier, text


def test_every_line_of_the_lock_carries_hashes():
    blocks = re.split(r"\n(?=\S)", LOCK.strip())[1:]
    assert len(blocks) == len(LOCKED) > 50
    assert all(re.search(r"--hash=sha256:[0-9a-f]{64}", block) for block in blocks)
    assert "://" not in LOCK


def test_what_runs_here_is_what_the_lock_says():
    for name in ("PySide6_Essentials", "numpy", "reportlab", "pydantic"):
        assert distribution(name).version == LOCKED[name]


def test_about_names_every_package_that_the_program_stands_on():
    named = {plain(name): version for name, version, _ in packages()}
    wanted, seen = [Requirement(t).name for t in PROJECT["dependencies"]], set()
    while wanted:
        name = plain(wanted.pop())
        if name in seen:
            continue
        seen.add(name)
        for text in distribution(name).requires or ():
            need = Requirement(text)
            if need.marker is None or need.marker.evaluate({"extra": ""}):
                wanted.append(need.name)
    assert seen == set(named)
    assert all(distribution(name).version == version for name, version in named.items())
    assert "LGPL" in about_html() and "Open Font License" in about_html() and "see its own" not in about_html()


@pytest.fixture(scope="module")
def built_here(tmp_path_factory):
    folder = tmp_path_factory.mktemp("dist")
    copy = folder / "copy"
    shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".venv", ".git", "build", "dist", "*.egg-info", ".*_cache", "__pycache__", ".hypothesis"))  # fmt: skip
    run = [os.sys.executable, str(copy / "scripts" / "dist.py"), str(folder)]
    subprocess.run(run, check=True, capture_output=True, cwd=copy)
    return folder


def test_the_source_archive_holds_tests_and_documents_and_the_wheel_all_that_ships(built_here):
    with tarfile.open(next(built_here.glob("*.tar.gz"))) as archive:
        names = {n.partition("/")[2] for n in archive.getnames()}
    assert {"tests/test_package.py", "docs/ARCHITECTURE.md", "requirements.lock", "CHANGELOG.md", "Makefile"} <= names
    with zipfile.ZipFile(next(built_here.glob("*.whl"))) as wheel:
        held = set(wheel.namelist())
        meta = wheel.read(next(n for n in held if n.endswith("METADATA"))).decode()
    shipped = {str(p.relative_to(ROOT / "src")) for p in (ROOT / "src" / "ribpatch" / "resources").rglob("*.*")}
    assert {n for n in shipped if "__pycache__" not in n} <= held and "ribpatch/py.typed" in held
    assert "Project-URL: Homepage" in meta and "Typing :: Typed" in meta and f"Version: {__version__}" in meta


# ---- the desktop ----


def test_the_desktop_entry_and_the_metainfo_say_the_same():
    entry = resources.data("desktop/ribpatch.desktop").decode()
    about = ElementTree.fromstring(resources.data("desktop/example.ribpatch.RibPatch.metainfo.xml"))
    assert about.findtext("name") in entry and about.findtext("summary") in entry
    assert about.findtext("launchable") == "ribpatch.desktop" and "Exec=ribpatch %F" in entry and "Keywords=" in entry
    assert about.find("releases/release").attrib["version"] == __version__ == PROJECT["version"]
    kind = re.search(r"MimeType=([^;]+);", entry)[1]
    assert about.findtext("provides/mediatype") == kind
    assert kind in resources.data("desktop/ribpatch-mime.xml").decode()
    for tool, file in (("desktop-file-validate", "ribpatch.desktop"), ("appstreamcli", "example.ribpatch.RibPatch.metainfo.xml")):  # fmt: skip
        if shutil.which(tool):
            more = ["validate", "--no-net"] if tool == "appstreamcli" else []
            path = ROOT / "src/ribpatch/resources/desktop" / file
            assert subprocess.run([tool, *more, path], capture_output=True).returncode == 0


@pytest.mark.parametrize("size", [16, 22, 24, 32, 48, 64, 128, 256, 512])
def test_an_icon_of_every_size(size):
    image = Image.open(BytesIO(resources.data(f"icons/hicolor/{size}.png")))
    assert image.size == (size, size) and image.mode == "RGBA"
    assert len(image.getcolors(maxcolors=size * size)) > 3


def test_install_puts_everything_in_its_place_and_uninstall_takes_it_away(tmp_path):
    env = {**os.environ, "XDG_DATA_HOME": str(tmp_path), "HOME": str(tmp_path)}
    command = tmp_path / "bin" / "ribpatch"
    command.parent.mkdir()
    command.write_text(f'#!/bin/sh\nexec "{os.sys.executable}" -m ribpatch "$@"\n')
    command.chmod(0o755)
    mine = tmp_path / "ribpatch" / "materials.json"
    mine.parent.mkdir()
    mine.write_text("{}")
    subprocess.run(["sh", ROOT / "scripts/install-desktop", command], env=env, check=True, capture_output=True)
    put = {str(p.relative_to(tmp_path)) for p in tmp_path.rglob("*") if "ribpatch" in p.name.lower() and p.is_file()}
    for name in ("man/man1/ribpatch.1", "bash-completion/completions/ribpatch", "zsh/site-functions/_ribpatch", "fish/vendor_completions.d/ribpatch.fish", "icons/hicolor/256x256/apps/ribpatch.png", "metainfo/example.ribpatch.RibPatch.metainfo.xml"):  # fmt: skip
        assert name in put, name
    subprocess.run(["sh", ROOT / "scripts/uninstall-desktop"], env=env, check=True, capture_output=True)
    left = [p for p in tmp_path.rglob("*") if "ribpatch" in p.name.lower() and p.is_file()]
    assert [p for p in left if p != command and "mime" not in str(p)] == [] and mine.exists()


# ---- the manual page and completion ----


def test_the_manual_page_names_every_command_and_option():
    page = man_page(_parser()).replace("\\-", "-").replace("\\fB", "").replace("\\fR", "")
    commands = commands_of(_parser())
    assert {c.name for c in commands} == set(__main__.COMMANDS)
    for command in commands:
        assert f".B {command.name}" in page
        for option in command.options:
            assert all(flag in page for flag in option.flags), (command.name, option.flags)
    if shutil.which("man"):
        run = subprocess.run(
            ["man", "-l", "--warnings", "-"], input=man_page(_parser()), capture_output=True, text=True
        )
        assert "EXIT STATUS" in run.stdout and "warning" not in run.stderr


@pytest.mark.parametrize("shell", SHELLS)
def test_completion_is_read_by_its_shell(shell, tmp_path):
    script = completion(_parser(), shell)
    assert all(name in script for name in __main__.COMMANDS) and ("--paper" in script or "-l paper" in script)
    if shutil.which(shell):
        path = tmp_path / f"words.{shell}"
        path.write_text(script)
        assert subprocess.run([shell, "-n", path], capture_output=True, text=True).stderr == ""


def test_bash_offers_commands_options_and_choices(tmp_path):
    path = tmp_path / "words.bash"
    path.write_text(completion(_parser(), "bash"))

    def offered(*words):
        typed = " ".join(f"'{w}'" for w in words)
        ask = f"source {path}; COMP_WORDS=({typed}); COMP_CWORD={len(words) - 1}; _ribpatch; echo ${{COMPREPLY[@]}}"
        return subprocess.run(["bash", "-c", ask], capture_output=True, text=True, check=True).stdout.split()

    assert offered("ribpatch", "sch") == ["schema"]
    assert offered("ribpatch", "report", "--pa") == ["--paper"]
    assert offered("ribpatch", "report", "--paper", "L") == ["Letter"]
    assert offered("ribpatch", "completion", "z") == ["zsh"]


# ---- signs ----


def strings():
    for path in (ROOT / "src" / "ribpatch").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                yield path, node.value
    for path in (ROOT / "src" / "ribpatch" / "resources" / "data").glob("*.json"):
        yield path, path.read_text()


def test_every_sign_that_the_program_writes_is_in_one_of_its_fonts():
    known = set()
    for name in ("B612-Regular.ttf", "DejaVuSans.ttf"):
        known |= set(TTFont(BytesIO(resources.data(f"fonts/{name}"))).getBestCmap())
    unprintable = ("core/text.py", "core/numerals.py")
    lacking = {
        (sign, path.name)
        for path, text in strings()
        for sign in text
        if ord(sign) > 126 and ord(sign) not in known and not str(path).endswith(unprintable)
    }
    assert not lacking


def test_a_name_in_any_letters_is_printed_in_letters(tmp_path):
    fonts()
    name = "Łódź Žižka ρ ⌀ Жук ○ sound"
    pdf = PdfReader(BytesIO(built([paragraph(name)], name, "foot of Łódź", "A4")))
    text = pdf.pages[0].extract_text()
    assert name in " ".join(text.split()) and "footofŁódź" in "".join(text.split())
    used = {str(f.get_object()["/BaseFont"]) for f in pdf.pages[0]["/Resources"]["/Font"].values()}
    assert any("DejaVu" in f for f in used) and any("B612" in f for f in used)
