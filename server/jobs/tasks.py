"""Where procrastinate looks for tasks: those of the queue, and of pictures."""

from . import pictures, queue

__all__ = ["pictures", "queue"]
