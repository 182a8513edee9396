"""Deriving everything else from a site's document, and keeping it under a hash of its inputs."""
