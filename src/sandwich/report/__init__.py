"""Pages and terminal output from tables and traces."""
