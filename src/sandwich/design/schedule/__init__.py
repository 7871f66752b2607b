"""Bars as they are cut and bent."""
