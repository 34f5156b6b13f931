"""`jar-tide check`: a workspace looked over, in plain words."""

from __future__ import annotations

import argparse
import json

from jartide.store.checking import check_workspace
from jartide.wording import say, tr


def check_command(arguments: argparse.Namespace) -> int:
    """Carry out `jar-tide check`; 1 where something is wrong that is not put right."""
    found = check_workspace(arguments.folder, repair=arguments.repair)
    if arguments.json:
        rows = [
            {"kind": one.kind, "words": say(one.words), "repaired": one.repaired} for one in found
        ]
        print(json.dumps({"schema": "jar-tide/check/1", "found": rows}, ensure_ascii=False))
    else:
        for one in found:
            print(say(one.words) + (f" {tr('check.repaired')}" if one.repaired else ""))
        if not found:
            print(tr("check.well"))
    return int(any(not one.repaired for one in found))
