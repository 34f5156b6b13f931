"""The lay-up of each finish family, from its table."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from jartide.errors import PlanError
from jartide.families import families
from jartide.plan.facts import SHEENS
from jartide.plan.school import USUAL, chosen, schools, ways_of
from jartide.plan.tables import checked_words, keys_known, parsed, rows, shipped
from jartide.plan.technique import MEASURES, Techniques, techniques
from jartide.reading.result import Role


@dataclass(frozen=True, slots=True, kw_only=True)
class LayUpStep:
    """One line of a lay-up.

    Attributes
    ----------
    technique : its id
    roles : of the layers it is laid for; empty for what goes under or over them
    when : facts that must all hold; "not " before one turns it round
    wet : "always", or "after NAME": laid into the step before while it is wet
    layer : where its colour comes from: ground, lightest, darkest or threads; without one in
        `layer` it is the layer's own
    again : the reason why it is laid although that tone lies already; without one it is left out
        then
    coats : how many, where not as many as the technique usually takes
    part : of that tone's cover, kept back for it from the pass before
    needs : techniques that go before it, unless they are there already
    """

    technique: str
    roles: tuple[str, ...] = ()
    when: tuple[str, ...] = ()
    wet: tuple[str, ...] = ()
    layer: str = ""
    needs: tuple[str, ...] = ()
    why: str = ""
    again: str = ""
    part: float = 0.0
    coats: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class LayUpTable:
    """What one family lays, in order, which schools it offers, and its usual sheen.

    `prefers` are choices between schools that it takes where the painter says nothing.
    """

    family: str
    schools: tuple[str, ...]
    sheen: str
    before: tuple[LayUpStep, ...]
    layer: tuple[LayUpStep, ...]
    after: tuple[LayUpStep, ...]
    prefers: tuple[tuple[str, str], ...] = ()


def layup_table(family: str, own: str = "", way: str = USUAL) -> LayUpTable:
    """Return a family's lay-up; `own` is the text of the painter's table that stands for it.

    `way` is one of `ways_of` the family; one that is for others is laid as usual.

    Raises
    ------
    PlanError : when there is no such family, or one sentence on the first fault of the table.
    """
    # However it is called, the same table is read once.
    known = way in {one.id for one in ways_of(family)}
    return _layup_table(family, own, way if known else USUAL)


@lru_cache(maxsize=64)
def _layup_table(family: str, own: str, way: str) -> LayUpTable:
    if family not in families():
        raise PlanError("error.family", name=family, known=", ".join(families()))
    name = f"{family}.toml" if way == USUAL else f"{way}.toml"
    usual = own or shipped(f"families/{name}") if way == USUAL else ""
    data = parsed(usual or shipped(f"ways/{name}"), name)
    keys_known(data, {"schools", "sheen", "prefers", "before", "layer", "after"}, name)
    groups = tuple(data.get("schools", []))
    for group in groups:
        if group not in schools():
            raise PlanError("error.table.school", name=name, key=str(group))
    parts = {key: rows(data, key, LayUpStep, name) for key in ("before", "layer", "after")}
    sheen = data.get("sheen", "satin")
    if sheen not in SHEENS:
        raise PlanError("error.table.value", name=name, key=family, what="sheen")
    prefers = tuple(data.get("prefers", {}).items())
    # Refuses what no school knows.
    chosen(dict(prefers))
    return LayUpTable(family=family, schools=groups, sheen=sheen, prefers=prefers, **parts)


def check_table(table: LayUpTable, known: Techniques | None = None) -> None:
    """Refuse a lay-up that names a technique, role or measure that does not exist.

    Raises
    ------
    PlanError : the file, the entry and the name.
    """
    known = known or techniques()
    name = f"{table.family}.toml"
    for step in (*table.before, *table.layer, *table.after):
        for technique in (step.technique, *step.needs):
            if technique not in known:
                raise PlanError(
                    "error.table.technique", name=name, key=table.family, what=technique
                )
        for role in step.roles:
            if role not in set(Role):
                raise PlanError("error.table.role", name=name, key=step.technique, what=role)
        if step.layer not in ("", "ground", "lightest", "darkest", "threads"):
            raise PlanError("error.table.value", name=name, key=step.technique, what="layer")
        if not 0 <= step.part < 1:
            raise PlanError("error.table.value", name=name, key=step.technique, what="part")
        checked_words((step.why, step.again), MEASURES, name, step.technique)
    for step in table.layer:
        if not step.roles:
            raise PlanError("error.table.value", name=name, key=step.technique, what="roles")
