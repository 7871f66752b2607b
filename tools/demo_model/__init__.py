"""A small flat-shell finite-element program that makes the demo model. A tool of the repository, not shipped."""
