"""Long work: queued, run by workers, reported to pages."""
