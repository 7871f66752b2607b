"""EN 1998-1:2004, chapter 5: seismic walls of concrete."""
