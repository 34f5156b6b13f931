"""Faults of the work that no photo is measured by: the painter names them, each has its mend.

What is marked is left out of the reading, so that a hair is not a vein.
"""

from __future__ import annotations

from enum import StrEnum

from jartide.wording import Message


class FaultKind(StrEnum):
    """What went wrong."""

    HAIR = "hair"
    BUBBLES = "bubbles"
    SCRATCH = "scratch"
    BLED_EDGE = "bled_edge"
    MILKY_POOL = "milky_pool"
    CRUMBS = "crumbs"
    POWDER_LUMPS = "powder_lumps"
    LOST_FLAKE = "lost_flake"
    LAP = "lap"
    BLEEDING = "bleeding"


def fault_name(kind: FaultKind) -> Message:
    """Return what a painter calls it."""
    return Message(f"fault.{kind.value}")


def fault_mend(kind: FaultKind) -> Message:
    """Return what mends it, the way that takes least back first."""
    return Message(f"fault.mend.{kind.value}")
