"""Stills of sites: what was wanted, how far it has come, and the site as it was."""
