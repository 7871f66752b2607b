"""The design stages: tables in, tables out."""
