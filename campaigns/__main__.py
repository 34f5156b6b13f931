"""Attack the program, and keep count of it.

    python -m campaigns [--seconds N | --slice] [--seed N] [--only NAME] [--keep]

`--seconds` is how long each campaign goes on; `--slice` makes the fixed number of attacks that
runs with every change, always the same ones. With `--keep` the counts are added to those of
earlier runs in campaigns/counts.json, from which docs/reliability.md is written.
"""

from __future__ import annotations

import argparse
import subprocess
import sys
import time

from campaigns import bundles, commands, disks, kills, photos, plans, texts
from campaigns.campaign import run
from campaigns.kept import keep

CAMPAIGNS = (
    *kills.CAMPAIGNS,
    disks.CAMPAIGN,
    photos.CAMPAIGN,
    bundles.BUNDLES,
    bundles.BACKUPS,
    texts.CAMPAIGN,
    commands.CAMPAIGN,
    plans.CAMPAIGN,
)
# The slice begins here, every time.
_SLICE_SEED = 1000


def main(given: list[str]) -> int:
    """Run campaigns; 1 when one of them found a fault."""
    parser = argparse.ArgumentParser(prog="python -m campaigns", description=__doc__)
    parser.add_argument("--seconds", type=float, default=600.0)
    parser.add_argument("--count", type=int)
    parser.add_argument("--slice", action="store_true")
    parser.add_argument("--seed", type=int)
    parser.add_argument("--only", choices=[campaign.name for campaign in CAMPAIGNS])
    parser.add_argument("--keep", action="store_true")
    options = parser.parse_args(given)
    faults = 0
    for campaign in CAMPAIGNS:
        if options.only not in (None, campaign.name):
            continue
        count = campaign.slice_count if options.slice else options.count
        seed = options.seed
        if seed is None:
            seed = _SLICE_SEED if options.slice else int(time.time())
        outcome = run(
            campaign, seed, count=count, seconds=options.seconds,
            tell=lambda words: print(words, file=sys.stderr, flush=True),
        )  # fmt: skip
        faults += len(outcome.faults)
        print(
            f"{campaign.name:20} {outcome.count:6} attacks {outcome.seconds:7.1f} s"
            f"  from seed {outcome.seed}  faults {len(outcome.faults)}",
            flush=True,
        )
        if options.keep:
            keep(campaign.name, campaign.promise, outcome)
    if not options.slice and options.only is None and options.count is None:
        faults += _in_the_window(options.seconds, keep_counts=options.keep)
    return int(faults > 0)


def _in_the_window(seconds: float, *, keep_counts: bool) -> int:
    """What a window is put through, each in a process of its own; how many found a fault."""
    kept = ["--keep"] if keep_counts else []
    asked = (["campaigns.load"], ["campaigns.hand", "--seconds", str(seconds)])
    return sum(
        subprocess.run([sys.executable, "-m", *module, *kept]).returncode != 0 for module in asked
    )


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
