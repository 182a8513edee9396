"""A folder as Django's storage, whose files are whole or not there."""

from __future__ import annotations

import os
import tempfile
from contextlib import suppress
from typing import Any

from django.core.files.storage import FileSystemStorage


class WholeFiles(FileSystemStorage):
    """Writes beside the place and moves the file there when it is complete: nobody reads a half of it, and a writer that is
    killed leaves nothing under its name."""

    def _save(self, name: str, content: Any) -> str:
        path = self.path(name)
        os.makedirs(os.path.dirname(path), exist_ok=True)
        handle, beside = tempfile.mkstemp(prefix=".writing-", dir=os.path.dirname(path))
        try:
            with os.fdopen(handle, "wb") as file:
                for chunk in content.chunks():
                    file.write(chunk)
            os.chmod(beside, 0o644)
            os.replace(beside, path)
        except BaseException:
            with suppress(OSError):
                os.unlink(beside)
            raise
        return name.replace("\\", "/")
