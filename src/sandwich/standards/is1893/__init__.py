"""IS 1893 (Part 1):2016: buildings under earthquakes."""
