"""``python -m sandwich`` and ``sandwich`` are the command line, in a process of their own."""

import gc

from sandwich.cli import main


def start() -> None:
    """Run the command line. What it imports lives to the end, so it is seldom searched for rubbish."""
    gc.set_threshold(200_000, 20, 100)
    try:
        main()
    finally:
        gc.freeze()  # nor at the end, when all goes at once


if __name__ == "__main__":
    start()
