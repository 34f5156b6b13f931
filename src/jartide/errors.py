"""The errors a person is meant to read: one clear sentence each, from the catalogue."""

from jartide.wording import Message, say


class JarTideError(Exception):
    """Base of every error worded for a person: what, where, what to do."""

    def __init__(self, id: str, *, count: int | None = None, **parameters: object) -> None:
        self.message = Message(id, count=count, **parameters)
        super().__init__(id)

    def __str__(self) -> str:
        return say(self.message)


class PhotoError(JarTideError):
    """A file that can't be opened as a photo."""


class CardError(JarTideError):
    """A photo card that can't be printed or used as asked."""


class DeviceError(JarTideError):
    """A camera or reader that can't do what it was asked."""


class PrepareError(JarTideError):
    """Corners, scale, neutral or region that don't make sense for a photo."""


class FamilyError(JarTideError):
    """A finish family there is not."""


class ReadingError(JarTideError):
    """A prepared picture that can't be read, or readings that can't be compared."""


class PaintError(JarTideError):
    """Paints, swatches or recipes that make no sense together."""


class PlanError(JarTideError):
    """A plan, its tables, hours or areas that make no sense."""


class WorkspaceError(JarTideError):
    """A workspace that can't be opened or written."""


class CommandError(JarTideError):
    """A command line that can't be carried out."""


class Cancelled(Exception):
    """Raised inside a stage by its progress callback when the painter stops it."""


class SheetError(JarTideError):
    """Something can't be put on paper."""
