"""Layout of the bars of a layer: a base mesh over all, and additional bars in rectangles where more is required."""
