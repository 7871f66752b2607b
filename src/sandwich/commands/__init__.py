"""One module a command, and the public functions behind it."""
