"""The start command: sets the machine up, and starts and stops what belongs together."""
