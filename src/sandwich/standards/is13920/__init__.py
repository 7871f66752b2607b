"""IS 13920:2016, clause 10 and Annex A: ductile walls."""
