"""Draws the pictures whose tasks come in on standard input, see `workers.draw_all`."""

from __future__ import annotations

import pickle
import sys

from sandwich.drawing.workers import draw

if __name__ == "__main__":
    tasks = pickle.load(sys.stdin.buffer)  # noqa: S301  # written by the process that started this one
    pickle.dump([draw(task) for task in tasks], sys.stdout.buffer)
