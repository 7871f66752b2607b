"""Walls as geometry: panels, storeys, openings and the parts that openings leave."""
