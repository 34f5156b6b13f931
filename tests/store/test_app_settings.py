"""Settings of the whole application: kept in one file, and usual when that can't be read."""

from __future__ import annotations

import json

import pytest

from jartide.errors import WorkspaceError
from jartide.store.app_settings import AppSettings, read_settings, settings_file, write_settings

OWN = AppSettings(text_scale=130, language="de", reduced_motion=True, workspace="/somewhere")


def test_settings_come_back_from_the_users_own_place(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    assert read_settings() == AppSettings()
    write_settings(OWN)
    assert settings_file().is_relative_to(tmp_path)
    assert read_settings() == OWN
    assert len(list(settings_file().parent.iterdir())) == 1


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"\xff\xfe",
        b"[1, 2]",
        b'{"text_scale": "huge", "language": "xx", "reduced_motion": "yes", "workspace": 5}',
        b'{"text_scale": 900, "language": ["de"], "unknown": {}}',
        b"[" * 100_000,
    ],
)
def test_a_damaged_file_means_the_usual_ones(tmp_path, content):
    file = tmp_path / "settings.json"
    file.write_bytes(content)
    assert read_settings(file) == AppSettings()


def test_what_can_not_be_written_leaves_the_old_ones(tmp_path):
    file = tmp_path / "settings.json"
    write_settings(OWN, file)
    blocked = tmp_path / "file" / "settings.json"
    (tmp_path / "file").write_text("no folder", encoding="utf-8")
    with pytest.raises(WorkspaceError, match=r"settings\.json"):
        write_settings(OWN, blocked)
    assert json.loads(file.read_text(encoding="utf-8"))["language"] == "de"
