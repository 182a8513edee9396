"""What every part of the API shares: who may call it, and how it tells of problems."""
