"""Which devices the painter is offered: those attached; stand-ins in the demo or when asked."""

from __future__ import annotations

from jartide.devices.registry import Device, Kind, Registry
from jartide.devices.source import SAID
from jartide.job.records import Records
from jartide.store.workspace import Workspace
from jartide.studio.stand_ins import STAND_INS
from jartide.wording import tr

DEVICES = Registry(STAND_INS)
_DEMO, _SWITCHED = "demo", "stand_ins"


def is_demo(workspace: Workspace | None) -> bool:
    """Return whether a workspace was made to try things out: what is made up may teach in it."""
    return workspace is not None and workspace.preference(_DEMO) is True


def stand_ins(workspace: Workspace | None) -> frozenset[Kind]:
    """Return the kinds of device that a stand-in may stand for."""
    if workspace is None:
        return frozenset()
    if is_demo(workspace):
        return frozenset(Kind)
    kept = workspace.preference(_SWITCHED)
    return frozenset(kind for kind in Kind if isinstance(kept, list) and kind.value in kept)


def switch_stand_in(records: Records, kind: Kind, on: bool) -> None:
    """Let a stand-in stand for a kind of device, or no longer."""
    kept = stand_ins(records.workspace)
    wanted = kept | {kind} if on else kept - {kind}
    records.set_preference(_SWITCHED, sorted(one.value for one in wanted))


def offered(records: Records, kind: Kind) -> Device | None:
    """Return the device of a kind to work with in the open workspace; None when there is none."""
    return DEVICES.offered(kind, stand_ins(records.workspace))


def source_words(source: str) -> str:
    """Say where a value came from, where that is worth saying; "" elsewhere."""
    return tr(f"source.{source}") if source in {s.value for s in SAID} else ""


def source_brief(source: str) -> str:
    """Say the same in a word or two, where there is little room."""
    return tr(f"source.brief.{source}") if source in {s.value for s in SAID} else ""
