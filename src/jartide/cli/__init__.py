"""The command line: the same stages without a window.

Results go to standard output, progress to standard error. Exit status 0, or 2
with one plain sentence. The modules of a command are imported when it is given,
so that the window opens without waiting for the rest.
"""

from __future__ import annotations

import sys

from jartide.cli.parser import make_parser
from jartide.cli.refusals import check_signs, sentence
from jartide.log_file import begin_log, quiet_libraries


def entry() -> int:
    """Run `jar-tide` as a program of its own: with a log, and without the chatter of libraries."""
    quiet_libraries()
    begin_log("command line" if sys.argv[1:] else "window")
    return main()


def main(argv: list[str] | None = None) -> int:
    """Run `jar-tide` and return its exit status."""
    arguments = make_parser().parse_args(argv)
    try:
        check_signs(list(vars(arguments).values()))
        return arguments.run(arguments)
    except BrokenPipeError:  # whoever read our output has seen enough
        sys.stderr.close()
        return 0
    except Exception as error:
        print(sentence(error, "command line"), file=sys.stderr)
        return 2
