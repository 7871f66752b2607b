"""``python -m sandwich`` is the command line."""

from sandwich.cli import main

main()
