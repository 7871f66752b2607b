"""The work of the stages on the zones of a project: bars, loaded areas, punching, service, strips, tendons."""
