"""A log that says what happened and where, and nothing that was typed."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from jartide.app.crash_report import write_report
from jartide.log_file import shown_path


def run(tmp_path, code, **more):
    env = {**os.environ, "XDG_STATE_HOME": str(tmp_path / "state"), **more}
    return subprocess.run([sys.executable, "-c", code], env=env, capture_output=True, text=True)


FAILING = """
import warnings, os, sys
from jartide import cli
from jartide.cli import parser
def fails(*_):
    warnings.warn("chatter of a library")
    os.write(2, b"chatter of C\\n")
    secret = "Client Morrow"
    raise KeyError(secret)
class Parser:
    def parse_args(self, _):
        return type("A", (), {"run": fails})()
cli.make_parser = Parser
sys.argv = ["jar-tide", "read"]
sys.exit(cli.entry())
"""


def test_what_nobody_foresaw_is_one_sentence_and_a_line_in_the_log(tmp_path):
    ended = run(tmp_path, FAILING)
    assert ended.returncode == 2
    assert ended.stderr.strip().count("\n") == 0 and "KeyError" in ended.stderr
    told = (tmp_path / "state/jar-tide/jar-tide.log").read_text("utf-8")
    assert "command line: KeyError at " in told and "fails" in told
    assert "chatter of a library" in told
    assert "Morrow" not in told


def test_without_a_place_for_it_the_work_goes_on(tmp_path):
    (tmp_path / "state").write_text("a file")
    ended = run(tmp_path, FAILING)
    assert ended.returncode == 2 and "KeyError" in ended.stderr


def test_a_failure_report_names_the_log(tmp_path):
    try:
        raise ValueError("x")
    except ValueError as error:
        report = write_report(tmp_path, error)
    assert report is not None and "jar-tide.log" in report.read_text("utf-8")


def test_a_path_is_shown_from_home():
    assert shown_path(Path.home() / "a").replace("\u200b", "") == "~/a"
    assert shown_path(Path("/x/y")).replace("\u200b", "") == "/x/y"
