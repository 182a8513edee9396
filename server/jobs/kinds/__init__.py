"""The kinds of jobs, one file each."""
