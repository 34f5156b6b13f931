"""`python -m jartide` does what `jar-tide` does."""

from multiprocessing import freeze_support

from jartide.cli import entry

if __name__ == "__main__":
    # The packaged program starts itself again for what is done in a process of its own.
    freeze_support()
    raise SystemExit(entry())
