"""Draws the pictures whose tasks come in on standard input, see `workers.PictureQueue`."""

from __future__ import annotations

import sys

from sandwich.drawing.workers import serve

if __name__ == "__main__":
    serve(sys.stdin.buffer, sys.stdout.buffer)
