"""Finishing a still: a stack of steps on its light, then on its tones."""
