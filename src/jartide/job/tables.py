"""The tables that plans and words are made of, read before anybody waits for them."""

from __future__ import annotations

from datetime import date

from jartide.families import families
from jartide.job.words.dates import long_date
from jartide.plan.cautions import caution_table
from jartide.plan.layup_table import layup_table
from jartide.plan.rule_table import rule_table
from jartide.plan.school import ways_of
from jartide.plan.technique import techniques


def read_all() -> None:
    """Read every table that ships; each is kept by the module it belongs to."""
    techniques()
    for name in families():
        for way in ways_of(name):
            layup_table(name, way=way.id)
    caution_table()
    rule_table()
    long_date(date(2000, 1, 1))
