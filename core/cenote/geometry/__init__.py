"""Geometry as plain arrays: meshes, rays, nearest points, charts and texels."""
