"""Grass as a material of the ground: single blades, thousands to a square metre, laid by rules and drawn as strands."""
