"""Figures from tables: described first, then drawn."""
