"""Which station needs work next, once the target is read."""

from __future__ import annotations

from jartide.job.open_job import OpenJob


def next_station(job: OpenJob) -> str:
    """Return the first station behind Reading that is not done: paints and mixes, the plan, boards.

    The sheet needs no work of its own: it comes last.
    """
    if any(not mix.parts for _, mix in job.jars.all()):
        return "jars"
    if not job.plan.is_kept():
        return "steps"
    return "sheet" if job.records.boards() else "boards"
