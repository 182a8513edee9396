"""Reading a mesh that somebody brings in."""

from __future__ import annotations

import hashlib
from typing import Any

from django.core.files.storage import default_storage

from cenote.derive.graph import Progress
from cenote.derive.sources import MESH, OWN_TEXTURES, source_name
from cenote.derive.store import pack_arrays
from cenote.formats.apart import read_mesh_apart
from cenote.materials.own_textures import is_wrapped
from cenote.refused import ImportRefused
from jobs.models import Job
from jobs.work import WORK, Work
from sites.brought import record
from sites.models import MeshImport
from store.blobs import shared_cache


@WORK.register
class InspectMesh(Work):
    """Reads an uploaded file, and keeps its mesh if it can be used."""

    kind = "inspect"
    title = "Reading a file"

    def do(self, job: Job, progress: Progress) -> dict[str, Any]:
        entry = MeshImport.objects.get(pk=job.arguments["import"])
        progress(0, 2, f"Reading {entry.file_name}")
        with default_storage.open(entry.upload) as file:
            content = file.read()
        try:
            found = read_mesh_apart(entry.file_name, content, entry.unit, entry.up)
        except ImportRefused as refusal:
            return self._refused(entry, str(refusal))
        except Exception:
            # Whatever came in the way: nobody waits for it in vain.
            self._refused(entry, "It could not be read, through an error of ours.")
            raise
        progress(1, 2, "Keeping its mesh")
        entry.mesh = _kept(job, MESH, found.mesh.as_arrays())
        entry.textures = _kept(job, OWN_TEXTURES, found.textures.as_arrays()) if found.textures else ""
        entry.wrapped = int(is_wrapped(found.mesh).sum())
        low, high = found.mesh.bounds
        entry.size, entry.triangles = (high - low).tolist(), len(found.mesh.faces)
        entry.remarks, entry.state = found.remarks, MeshImport.State.READY
        entry.save()
        return {"import": str(entry.pk)}

    @staticmethod
    def _refused(entry: MeshImport, why: str) -> dict[str, Any]:
        entry.state, entry.message = MeshImport.State.REFUSED, f"{why} Nothing was changed."
        entry.save()
        return {"import": str(entry.pk)}


def _kept(job: Job, what: str, arrays: dict[str, Any]) -> str:
    """Keep what was read among what the user has brought in. :returns: the hash of its content."""
    packed = pack_arrays(arrays)
    digest = hashlib.sha256(packed).hexdigest()
    shared_cache().sources.write(source_name(what, digest), packed)
    record(job.site.owner, what, digest, len(packed))
    return digest
