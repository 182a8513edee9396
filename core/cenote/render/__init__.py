"""Pictures made by the core itself."""
