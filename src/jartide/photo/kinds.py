"""Which files are photos, by the ends of their names; imports nothing heavy."""

from __future__ import annotations

# Camera raw, which rawpy develops.
RAW_SUFFIXES = frozenset(
    f".{ending}"
    for ending in (
        *("dng", "cr2", "cr3", "crw", "nef", "nrw", "arw", "sr2"),
        *("raf", "orf", "rw2", "pef", "srw", "rwl", "iiq", "3fr", "kdc"),
    )
)
PHOTO_SUFFIXES = RAW_SUFFIXES | {
    f".{ending}" for ending in ("jpg", "jpeg", "png", "tif", "tiff", "webp", "bmp", "heic", "heif")
}
# The same, as file dialogs take them.
PHOTO_FILES = " ".join(sorted(f"*{suffix}" for suffix in PHOTO_SUFFIXES))
