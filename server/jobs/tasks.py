"""Where procrastinate looks for tasks: those of the queue, of pictures, and of what was cut off."""

from . import pictures, queue, rescue

__all__ = ["pictures", "queue", "rescue"]
