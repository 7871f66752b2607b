"""A job loaded once, its zones ready for design, and the form in which stages work on it."""
