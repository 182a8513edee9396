"""The moves of moving pictures, one file each."""
