"""The tables of the workspace's database, of this version."""

from __future__ import annotations

from sqlalchemy import JSON, Column, Float, Integer, MetaData, String, Table, UniqueConstraint

SCHEMA_VERSION = 8
# "JTde" as a number: tells our files from any other SQLite database.
APPLICATION_ID = 0x4A546465

metadata = MetaData()


def _id(name: str, index: bool = True) -> Column:
    return Column(name, String, nullable=False, index=index)


jobs = Table(
    "jobs",
    metadata,
    Column("id", String, primary_key=True),
    Column("name", String, nullable=False),
    Column("client", String, nullable=False),
    Column("place", String, nullable=False),
    Column("position", Integer, nullable=False),
    Column("created_at", String, nullable=False),
    Column("body", JSON, nullable=False, server_default="{}"),
    Column("deleted_at", String),
)
finishes = Table(
    "finishes",
    metadata,
    Column("id", String, primary_key=True),
    _id("job_id"),
    Column("name", String, nullable=False),
    Column("note", String, nullable=False),
    Column("family", String, nullable=False),
    Column("viewing_m", Float, nullable=False),
    Column("tolerance", Float, nullable=False),
    Column("layers", JSON(none_as_null=True)),
    Column("body", JSON, nullable=False, server_default="{}"),
    Column("position", Integer, nullable=False),
    Column("deleted_at", String),
)
surfaces = Table(
    "surfaces",
    metadata,
    Column("id", String, primary_key=True),
    _id("finish_id"),
    Column("name", String, nullable=False),
    Column("width_mm", Float, nullable=False),
    Column("height_mm", Float, nullable=False),
    Column("count", Integer, nullable=False),
    Column("body", JSON, nullable=False, server_default="{}"),
    Column("deleted_at", String),
)
boards = Table(
    "boards",
    metadata,
    Column("id", String, primary_key=True),
    _id("finish_id"),
    Column("number", Integer, nullable=False),
    Column("remark", String, nullable=False),
    Column("checks", JSON, nullable=False, server_default="[]"),
    Column("body", JSON, nullable=False, server_default="{}"),
    Column("made_at", String, nullable=False),
    Column("deleted_at", String),
)
entries = Table(
    "entries",
    metadata,
    Column("id", String, primary_key=True),
    _id("board_id"),
    Column("at", String, nullable=False),
    Column("body", JSON, nullable=False),
    Column("deleted_at", String),
)
plans = Table(
    "plans",
    metadata,
    Column("id", String, primary_key=True),
    _id("finish_id"),
    Column("body", JSON, nullable=False),
    Column("deleted_at", String),
)
photos = Table(
    "photos",
    metadata,
    Column("id", String, primary_key=True),
    _id("finish_id"),
    Column("board_id", String, index=True),
    Column("use", String, nullable=False),
    Column("sha256", String, nullable=False),
    Column("file_name", String, nullable=False),
    Column("taken", String),
    Column("added_at", String, nullable=False),
    Column("position", Integer, nullable=False),
    Column("settings", JSON, nullable=False),
    Column("zones", JSON, nullable=False, server_default="[]"),
    Column("body", JSON, nullable=False, server_default="{}"),
    Column("deleted_at", String),
)
readings = Table(
    "readings",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("sha256", String, nullable=False),
    Column("settings_revision", String, nullable=False),
    Column("family", String, nullable=False),
    Column("algorithm", String, nullable=False),
    Column("seed", Integer, nullable=False),
    Column("made_at", String, nullable=False),
    Column("reading", String, nullable=False),
    UniqueConstraint("sha256", "settings_revision", "family", "algorithm", "seed"),
)
tins = Table(
    "tins",
    metadata,
    Column("id", String, primary_key=True),
    Column("name", String, nullable=False),
    Column("position", Integer, nullable=False),
    Column("body", JSON, nullable=False),
    Column("deleted_at", String),
)
mixes = Table(
    "mixes",
    metadata,
    Column("id", String, primary_key=True),
    _id("finish_id"),
    Column("name", String, nullable=False),
    Column("position", Integer, nullable=False),
    Column("body", JSON, nullable=False),
    Column("deleted_at", String),
)
preferences = Table(
    "preferences",
    metadata,
    Column("name", String, primary_key=True),
    Column("value", JSON),
)
