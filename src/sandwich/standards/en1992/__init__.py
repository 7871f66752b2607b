"""EN 1992-1-1:2004, with what Annex LL of EN 1992-2:2005 adds for shells."""
