"""Design standards: a folder each, a module a chapter, one function a clause."""
