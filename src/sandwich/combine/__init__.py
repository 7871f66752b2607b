"""Combinations of cases."""
