"""Where procrastinate looks for tasks: those of the queue, of pictures, of what was cut off, and of clearing away."""

from . import holdings, pictures, queue, rescue

__all__ = ["holdings", "pictures", "queue", "rescue"]
