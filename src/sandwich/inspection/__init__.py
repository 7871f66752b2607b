"""What came in, looked at before any design: overview and doubts with their evidence."""
