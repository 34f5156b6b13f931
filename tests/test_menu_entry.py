"""The menu entry, the manual page and the completions: what is installed, what it says."""

import configparser
import re
import shutil
import subprocess
from pathlib import Path

import make_share
import pytest

from jartide.cli import main
from jartide.store.menu_entry import PLACES, install_desktop, remove_desktop

SHARE = Path(__file__).parents[1] / "src" / "jartide" / "data" / "share"


def test_menu_entry_is_written_and_taken_away_again(monkeypatch, tmp_path, capsys):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "share"))
    assert main(["--install-desktop"]) == 0
    said = capsys.readouterr()
    assert "in the menu" in said.err
    assert sorted(said.out.split()) == sorted(str(tmp_path / "share" / p) for p in PLACES.values())
    assert main(["--remove-desktop"]) == 0
    assert not [file for file in (tmp_path / "share").rglob("*") if file.is_file()]
    assert remove_desktop(tmp_path / "share") == []


def test_places_that_cannot_be_written_are_told_in_one_sentence(monkeypatch, tmp_path, capsys):
    (tmp_path / "share").write_text("a file, not a folder", encoding="utf-8")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "share"))
    assert main(["--install-desktop"]) == 2
    assert len(capsys.readouterr().err.strip().splitlines()) == 1


@pytest.mark.parametrize(
    "program", ["/usr/bin/jar-tide", "/home/a b/jar-tide", '/odd/$100 "%f" \\ `x`/jar-tide']
)
def test_the_entry_starts_exactly_this_program(program, tmp_path):
    install_desktop(tmp_path, [program, "-m", "jartide"])
    entry = configparser.ConfigParser(interpolation=None)
    entry.read(tmp_path / PLACES["jar-tide.desktop"], encoding="utf-8")
    line = entry["Desktop Entry"]["Exec"]
    # Read as a desktop does: first the string's own escapes, then quoted arguments, then %%.
    quoted = re.findall(r'"((?:\\.|[^"\\])*)"', line.replace("\\\\", "\\"))
    parts = [re.sub(r"\\(.)", r"\1", part).replace("%%", "%") for part in quoted]
    assert parts == [program, "-m", "jartide"]


@pytest.mark.parametrize("name", make_share.MADE)
def test_manual_page_and_completions_are_those_of_the_parser(name):
    def words(text):
        return re.sub(r"\s+", " ", text)

    assert words((SHARE / name).read_text(encoding="utf-8")) == words(make_share.made(name)), (
        "make share writes them anew"
    )


def test_manual_page_names_every_command_and_option():
    page = (SHARE / "jar-tide.1").read_text(encoding="utf-8").replace("\\-", "-")
    for word in ("read", "compare", "prepare", "card", "mix", "glaze", "plan", "demo"):
        assert f"jar-tide {word}" in page
    for option in ("--install-desktop", "--workspace", "--mm-per-px", "--max-paints", "--weather"):
        assert option in page


@pytest.mark.skipif(shutil.which("bash") is None, reason="bash is not installed")
def test_bash_offers_commands_and_options(tmp_path):
    asked = f"""
        source '{SHARE / "jar-tide.bash"}'
        COMP_WORDS=(jar-tide pl); COMP_CWORD=1; _shtab_jar_tide; echo "${{COMPREPLY[@]}}"
        COMP_WORDS=(jar-tide mix --max-pai); COMP_CWORD=2; _shtab_jar_tide; echo "${{COMPREPLY[@]}}"
    """
    found = subprocess.run(["bash", "-c", asked], capture_output=True, text=True, timeout=20)
    assert [line.strip() for line in found.stdout.splitlines()] == ["plan", "--max-paints"], found
