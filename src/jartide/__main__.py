"""`python -m jartide` does what `jar-tide` does."""

from jartide.cli import main

if __name__ == "__main__":
    raise SystemExit(main())
