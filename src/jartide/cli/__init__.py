"""The command line: the same stages without a window.

Results go to standard output, progress to standard error. Exit status 0, or 2
with one plain sentence. The modules of a command are imported when it is given,
so that the window opens without waiting for the rest.
"""

from __future__ import annotations

import sys

from jartide.cli.parser import make_parser
from jartide.errors import JarTideError


def main(argv: list[str] | None = None) -> int:
    """Run `jar-tide` and return its exit status."""
    arguments = make_parser().parse_args(argv)
    try:
        return arguments.run(arguments)
    except JarTideError as error:
        print(error, file=sys.stderr)
        return 2
    except BrokenPipeError:  # whoever read our output has seen enough
        sys.stderr.close()
        return 0
