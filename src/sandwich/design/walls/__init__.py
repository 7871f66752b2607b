"""Walls: arrays in, arrays out."""
