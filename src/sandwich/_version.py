"""The one source of the version."""

__version__ = "0.1.0"
