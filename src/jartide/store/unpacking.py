"""What goes wrong while a .zip of somebody else's is read, as one sentence."""

from __future__ import annotations

import lzma
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager

from jartide.errors import WorkspaceError


@contextmanager
def unpacking(name: str, id: str = "error.bundle.zip") -> Iterator[None]:
    """Turn whatever a damaged or strange .zip raises into a WorkspaceError that names it.

    `id` : of the sentence
    """
    try:
        yield
    except (zipfile.BadZipFile, zipfile.LargeZipFile, EOFError) as error:
        raise WorkspaceError(id, name=name) from error
    except (NotImplementedError, RuntimeError, ValueError, KeyError) as error:
        # Encrypted, packed in another way, or with a damaged directory.
        raise WorkspaceError(id, name=name) from error
    except OSError as error:
        if error.errno is None:  # a bad stream of bzip2; of the disk, whoever reads tells
            raise WorkspaceError(id, name=name) from error
        raise
    except (zlib.error, lzma.LZMAError) as error:
        raise WorkspaceError(id, name=name) from error
