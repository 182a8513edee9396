"""The steps of finishes, one file each."""
