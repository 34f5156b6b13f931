"""What went wrong, in the one sentence that a command or a batch line ends with."""

from __future__ import annotations

from jartide.errors import CommandError, JarTideError
from jartide.log_file import log_failure
from jartide.wording import tr

# What was pasted in the place of a name may go on for pages: its beginning tells enough.
_MOST_OF_A_NAME = 120


def sentence(error: Exception, where: str) -> str:
    """Return what a person is told of a failure; what nobody foresaw is logged, with its place."""
    if isinstance(error, JarTideError):
        return str(error)
    if isinstance(error, OSError) and error.filename and error.strerror:
        name = str(error.filename)
        shown = name if len(name) <= _MOST_OF_A_NAME else f"{name[:_MOST_OF_A_NAME]}…"
        return str(CommandError("error.command.path", name=shown, why=error.strerror))
    log_failure(error, where)
    return tr("error.unexpected", what=type(error).__name__)


def check_signs(given: object) -> None:
    """Check that no text of an option, however deep it lies, holds a NUL: no file can bear it.

    Raises
    ------
    CommandError : when one does.
    """
    waiting = [given]
    while waiting:
        one = waiting.pop()
        if isinstance(one, dict):
            waiting += [*one.keys(), *one.values()]
        elif isinstance(one, list | tuple):
            waiting += one
        elif "\0" in str(one):
            raise CommandError("error.command.sign")
