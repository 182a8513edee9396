"""Recipes that a user keeps for all of their sites."""
