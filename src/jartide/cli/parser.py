"""The options of the command line, and which command takes which."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from importlib import import_module
from pathlib import Path
from typing import NoReturn

from jartide import __version__
from jartide.wording import tr


def _command(module: str, name: str) -> Callable[[argparse.Namespace], int]:
    """A command whose module, with all that it needs, is imported when it is given."""

    def run(arguments: argparse.Namespace) -> int:
        return getattr(import_module(f"jartide.{module}"), name)(arguments)

    return run


class _Parser(argparse.ArgumentParser):
    """An argument parser that says what is wrong in one sentence, without the usage."""

    def error(self, message: str) -> NoReturn:
        self.exit(2, f"{tr('cli.usage', message=message)}\n")


def make_parser() -> argparse.ArgumentParser:
    """Return the parser of the whole command line; the man page is made from it."""
    parser = _Parser(prog="jar-tide", description=tr("cli.about"))
    parser.add_argument("--version", action="version", version=f"jar-tide {__version__}")
    parser.add_argument("--workspace", type=Path, help=tr("cli.help.workspace"))
    parser.add_argument(
        "--install-desktop", action="store_true", help=tr("cli.help.install_desktop")
    )
    parser.add_argument("--remove-desktop", action="store_true", help=tr("cli.help.remove_desktop"))
    parser.set_defaults(run=_command("app.commands", "open_window"))
    commands = parser.add_subparsers(
        title=tr("cli.commands"), metavar="COMMAND", parser_class=_Parser
    )

    read = commands.add_parser("read", help=tr("cli.help.read"))
    _add_photo(read, several=True)
    read.add_argument("--family", metavar="NAME", help=tr("cli.help.family"))
    read.add_argument("--zones", action="store_true", default=None, help=tr("cli.help.zones"))
    read.add_argument("--layers-to", type=Path, metavar="DIR", help=tr("cli.help.layers_to"))
    _add_output(read)
    read.set_defaults(run=_command("cli.photos", "read_command"))

    compare = commands.add_parser("compare", help=tr("cli.help.compare"))
    compare.add_argument("target", nargs="?", metavar="TARGET", help=tr("cli.help.compare_how"))
    compare.add_argument("board", nargs="?", metavar="BOARD")
    compare.add_argument("--mm-per-px-target", type=float, metavar="X")
    compare.add_argument("--mm-per-px-board", type=float, metavar="Y")
    for which in ("target", "board"):
        _add_how(compare, f"{which}-")
    compare.add_argument("--scan", action="store_true", default=None, help=tr("cli.help.scan"))
    compare.add_argument("--viewing-m", type=float, metavar="M", help=tr("cli.help.viewing"))
    compare.add_argument("--tolerance", type=float, metavar="N", help=tr("cli.help.tolerance"))
    compare.add_argument(
        "--same-spot", action="store_true", default=None, help=tr("cli.help.same_spot")
    )
    compare.add_argument(
        "--colours-known", action="store_true", default=None, help=tr("cli.help.colours_known")
    )
    compare.add_argument("--made", metavar="HOW", help=tr("cli.help.made"))
    for which in ("target", "board"):
        compare.add_argument(
            f"--{which}-state", metavar="STATE", help=tr(f"cli.help.{which}_state")
        )
    compare.add_argument("--family", metavar="NAME", help=tr("cli.help.family"))
    _add_output(compare)
    compare.set_defaults(run=_command("cli.photos", "compare_command"))

    prepared = commands.add_parser("prepare", help=tr("cli.help.prepare"))
    _add_photo(prepared)
    prepared.add_argument("--out", type=Path, metavar="FLAT.png", help=tr("cli.help.out"))
    _add_output(prepared)
    prepared.set_defaults(run=_command("cli.photos", "prepare_command"))

    card = commands.add_parser("card", help=tr("cli.help.card"))
    card.add_argument("--out", type=Path, metavar="card.pdf", help=tr("cli.help.card_out"))
    card.add_argument("--size", default="A6", metavar="SIZE", help=tr("cli.help.card_size"))
    card.add_argument("--dpi", type=int, default=300, metavar="N", help=tr("cli.help.dpi"))
    card.set_defaults(run=_command("cli.photos", "print_card"))

    mix = commands.add_parser("mix", help=tr("cli.help.mix"))
    _add_shelf(mix)
    mix.add_argument("--stock", metavar="STOCK.csv", help=tr("cli.help.stock"))
    mix.add_argument("--keep", metavar="NAME,NAME", help=tr("cli.help.keep"))
    mix.add_argument("--own-black", action="store_true", default=None, help=tr("cli.help.black"))
    mix.add_argument("--let-down", action="store_true", default=None, help=tr("cli.help.let_down"))
    mix.add_argument("--over", metavar="L,a,b", help=tr("cli.help.over"))
    mix.add_argument("--primer", metavar="L,a,b", help=tr("cli.help.primer"))
    mix.add_argument("--amount-ml", type=float, metavar="ML", help=tr("cli.help.amount"))
    mix.add_argument("--spoon-ml", type=float, metavar="ML", help=tr("cli.help.spoon"))
    _add_output(mix)
    mix.set_defaults(run=_command("cli.paints", "mix_command"))

    glaze = commands.add_parser("glaze", help=tr("cli.help.glaze"))
    _add_shelf(glaze)
    glaze.add_argument("--base", metavar="L,a,b", help=tr("cli.help.base"))
    glaze.add_argument("--max-coats", type=int, metavar="N", help=tr("cli.help.max_coats"))
    glaze.add_argument("--carrier", type=float, metavar="PARTS", help=tr("cli.help.carrier"))
    glaze.add_argument("--carrier-name", metavar="NAME", help=tr("cli.help.carrier_name"))
    glaze.add_argument("--water", type=float, metavar="PARTS", help=tr("cli.help.water"))
    glaze.add_argument(
        "--no-water", action="store_true", default=None, help=tr("cli.help.no_water")
    )
    glaze.add_argument("--coats", type=int, metavar="N", help=tr("cli.help.coats"))
    _add_output(glaze)
    glaze.set_defaults(run=_command("cli.paints", "glaze_command"))

    plan = commands.add_parser("plan", help=tr("cli.help.plan"))
    _add_photo(plan, several=True)
    plan.add_argument("--family", metavar="NAME", help=tr("cli.help.family"))
    plan.add_argument("--zones", action="store_true", default=None, help=tr("cli.help.zones"))
    _add_piece(plan)
    _add_output(plan)
    plan.set_defaults(run=_command("cli.plans", "plan_command"))

    check = commands.add_parser("check", help=tr("cli.help.check"))
    check.add_argument("folder", type=Path, metavar="WORKSPACE")
    check.add_argument("--repair", action="store_true", help=tr("cli.help.repair"))
    check.add_argument("--json", action="store_true", help=tr("cli.help.json"))
    check.set_defaults(run=_command("cli.checks", "check_command"))

    demo = commands.add_parser("demo", help=tr("cli.help.demo"))
    demo.set_defaults(run=_command("app.commands", "open_demo"))
    return parser


def _add_photo(parser: argparse.ArgumentParser, several: bool = False) -> None:
    """The photo, and the options that say how it is squared, scaled, neutralised and evened."""
    parser.add_argument("photo", nargs="*" if several else "?", metavar="PHOTO")
    parser.add_argument("--mm-per-px", type=float, metavar="X", help=tr("cli.help.mm_per_px"))
    _add_how(parser)


# How a photo is taken in: option, kind of value (none for a switch), its sign, its help.
_HOW: tuple[tuple[str, type | None, str, str], ...] = (
    ("corners", str, "x,y,x,y,x,y,x,y", "cli.help.corners"),
    ("size", str, "WxH", "cli.help.size"),
    ("neutral", str, "x,y,w,h", "cli.help.neutral"),
    ("neutral-L", float, "L", "cli.help.neutral_L"),
    ("region", str, "x,y,w,h", "cli.help.region"),
    ("card-values", str, "FILE.csv", "cli.help.card_values"),
    ("card-height", float, "MM", "cli.help.card_height"),
    ("card-length", float, "MM", "cli.help.card_length"),
    ("whole-plane", None, "", "cli.help.whole_plane"),
    ("no-card", None, "", "cli.help.no_card"),
    ("chart", str, "FILE.csv", "cli.help.chart"),
    ("chart-corners", str, "x,y,x,y,x,y,x,y", "cli.help.chart_at"),
    ("even-light", None, "", "cli.help.even"),
    ("as-lit", None, "", "cli.help.as_lit"),
    ("blank", str, "PHOTO", "cli.help.blank"),
    ("leave-out", str, "x,y,w,h;...", "cli.help.leave_out"),
    ("scan", None, "", "cli.help.scan"),
    ("joints-as-lines", None, "", "cli.help.joints"),
    ("sheen", str, "WORD", "cli.help.sheen"),
)


def _add_how(parser: argparse.ArgumentParser, prefix: str = "") -> None:
    """The options of how a photo is taken in, all with a prefix; with one, without their help."""
    for name, kind, metavar, words in _HOW:
        told = argparse.SUPPRESS if prefix else tr(words)
        if kind is None:
            parser.add_argument(f"--{prefix}{name}", action="store_true", default=None, help=told)
        else:
            parser.add_argument(f"--{prefix}{name}", type=kind, metavar=metavar, help=told)


def _add_piece(parser: argparse.ArgumentParser) -> None:
    """The options that say what gets the finish, who works, and in what air."""
    for name, kind, metavar in (
        ("piece", str, "WxH"),
        ("count", int, "N"),
        ("shape", str, "WORD"),
        ("substrate", str, "WORD"),
        ("conditions", str, "WORD,WORD"),
        ("place", str, "WORD"),
        ("wear", str, "WORD"),
        ("facing", str, "WORD"),
        ("relief-factor", float, "X"),
        ("openings", float, "M2"),
        ("beside", str, "WORDS"),
        ("latitude", float, "DEGREES"),
        ("schools", str, "GROUP=CHOICE,..."),
        ("begins", str, "DATE"),
        ("workers", int, "N"),
        ("temperature", float, "C"),
        ("humidity", float, "PERCENT"),
        ("weather", str, "FILE.csv"),
        ("shelf", str, "SHELF.csv"),
        ("change", str, "S4.coats=2;..."),
        ("let-stand", str, "RULE=WHY;..."),
    ):
        words = tr(f"cli.help.plan_{name.replace('-', '_')}")
        parser.add_argument(f"--{name}", type=kind, metavar=metavar, help=words)
    parser.add_argument(
        "--behind-glass", action="store_true", default=None, help=tr("cli.help.plan_glass")
    )


def _add_shelf(parser: argparse.ArgumentParser) -> None:
    """The options that say which paints there are, what is wanted, and what is allowed."""
    parser.add_argument("--shelf", metavar="SHELF.csv", help=tr("cli.help.shelf"))
    parser.add_argument("--target", metavar="L,a,b", help=tr("cli.help.target"))
    parser.add_argument("--parts", metavar="NAME=3,NAME=1", help=tr("cli.help.parts"))
    parser.add_argument("--max-paints", type=int, metavar="N", help=tr("cli.help.max_paints"))
    parser.add_argument("--max-parts", type=int, metavar="N", help=tr("cli.help.max_parts"))
    parser.add_argument("--top", type=int, metavar="N", help=tr("cli.help.top"))
    parser.add_argument("--include", metavar="NAME,NAME", help=tr("cli.help.include"))
    parser.add_argument("--exclude", metavar="NAME,NAME", help=tr("cli.help.exclude"))


def _add_output(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--json", action="store_true", help=tr("cli.help.json"))
    parser.add_argument("--batch", type=Path, metavar="FILE.jsonl", help=tr("cli.help.batch"))
