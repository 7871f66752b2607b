"""Equilibrium only: no standard, no file, no picture."""
