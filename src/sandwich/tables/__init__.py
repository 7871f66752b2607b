"""Readers and writers: names, units and signs are turned at this door."""
