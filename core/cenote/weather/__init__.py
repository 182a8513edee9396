"""Weathering: covers, the climate that they answer to, and the compositor of final maps."""
