"""The input, looked at before any design: overview and warnings with their evidence."""
