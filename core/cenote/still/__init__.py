"""Stills: what a shot shows, traced along paths of light."""
