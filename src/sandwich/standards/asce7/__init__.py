"""ASCE 7-16: buildings under earthquakes."""
