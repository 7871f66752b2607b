"""Walls of a job: their panels and parts, cuts, forces and checks."""
