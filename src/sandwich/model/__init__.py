"""Geometry without results: mesh, zones, points."""
