"""The store of derived data: whole or not at all, no larger than its limit, one maker at a time, on a folder or an object store."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
from datetime import timedelta
from io import StringIO
from pathlib import Path
from unittest.mock import patch

import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import InMemoryStorage
from django.core.management import call_command
from django.db import connection
from django.test import TestCase, TransactionTestCase
from django.utils import timezone

from cenote.derive.cache import Cache
from store.blobs import DerivedStore, SourceStore
from store.models import Blob
from store.whole_files import WholeFiles

# Writes one large file under the same name again and again, each time all of one letter.
_WRITER = """
import sys
sys.path.insert(0, {server!r})
import django.conf
django.conf.settings.configure()
from store.whole_files import WholeFiles
from django.core.files.base import ContentFile
storage = WholeFiles({folder!r})
print("ready", flush=True)
k = 0
while True:
    storage._save("derived/one", ContentFile(bytes([65 + k % 26]) * 3_000_000))
    k += 1
"""


class WholeFilesTests(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = folder.name

    def test_readers_meet_whole_files_and_a_killed_writer_leaves_none(self) -> None:
        script = _WRITER.format(server=str(Path(__file__).parents[1]), folder=self.folder)
        for _ in range(3):
            writer = subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.PIPE)
            assert writer.stdout is not None
            writer.stdout.readline()
            storage, until, read = WholeFiles(self.folder), time.monotonic() + 60, 0
            while read < 40 and time.monotonic() < until:
                try:
                    with storage.open("derived/one") as file:
                        content = file.read()
                except FileNotFoundError:
                    continue
                self.assertEqual((len(content), content.count(content[:1])), (3_000_000, 3_000_000))
                read += 1
            self.assertEqual(read, 40)
            os.kill(writer.pid, signal.SIGKILL)
            writer.wait()
            writer.stdout.close()
            with storage.open("derived/one") as file:
                self.assertEqual(len(set(file.read())), 1)

    def test_what_cannot_be_written_leaves_nothing_behind(self) -> None:
        class Bursting(ContentFile):
            def chunks(self, chunk_size=None):
                yield b"half"
                raise OSError("the disk is full")

        with self.assertRaisesRegex(OSError, "full"):
            WholeFiles(self.folder)._save("derived/one", Bursting(b""))
        self.assertEqual(os.listdir(Path(self.folder) / "derived"), [])


class DerivedStoreTests(TestCase):
    def store(self, most: int = 10_000) -> DerivedStore:
        return DerivedStore(InMemoryStorage(), most)

    def test_bytes_are_kept_once_under_their_kind(self) -> None:
        store = self.store()
        self.assertIsNone(store.read("Mask-abcd"))
        store.write("Mask-abcd", b"one")
        store.write("Mask-abcd", b"one")
        self.assertEqual(store.read("Mask-abcd"), b"one")
        self.assertTrue(store.has("Mask-abcd"))
        self.assertEqual(store.storage.listdir("derived/Mask/ab")[1], ["Mask-abcd"])
        store.write("Mask-abcd.line", b"first")
        store.write("Mask-abcd.line", b"second")
        self.assertEqual(store.read("Mask-abcd.line"), b"second")

    def test_the_least_recently_used_goes_first_and_sources_never(self) -> None:
        store = self.store()
        sources = SourceStore(store.storage)
        sources.write("mesh-" + "0" * 64, bytes(9_000))
        for k in range(9):
            store.write(f"Maps-{k}", bytes(1_000))
            Blob.objects.filter(name=f"Maps-{k}").update(used=timezone.now() - timedelta(hours=9 - k))
        store.read("Maps-0")
        store.write("Maps-large", bytes(4_000))
        self.assertLessEqual(store.held(), 9_000)
        self.assertTrue(store.has("Maps-0"), "it was just read")
        self.assertFalse(store.has("Maps-1"))
        self.assertTrue(store.has("Maps-8"))
        self.assertTrue(store.has("Maps-large"))
        self.assertEqual(len(sources.read("mesh-" + "0" * 64) or b""), 9_000)
        self.assertEqual(store.held(), sum(store.storage.size(store._path(blob.name)) for blob in Blob.objects.all()))

    def test_what_went_is_made_again(self) -> None:
        store = self.store()
        made = []

        def make() -> dict[str, np.ndarray]:
            made.append(1)
            return {"a": np.zeros(100)}

        Cache(store).kept("Maps-a", make, dict, dict)
        Blob.objects.update(used=timezone.now() - timedelta(hours=1))
        store.most = 0
        store.clear_out()
        Cache(store).kept("Maps-a", make, dict, dict)
        self.assertEqual(len(made), 2)

    def test_what_an_older_version_left_is_swept_and_what_users_brought_is_kept(self) -> None:
        # A store of its own: what is swept here is not what other tests have made.
        storage = InMemoryStorage()
        cache = Cache(DerivedStore(storage, 10**9), SourceStore(storage))
        self.enterContext(patch("store.management.commands.tidy_store.shared_cache", return_value=cache))
        digest = "a" * 64
        storage.save(f"derived/me/mesh-{digest}", ContentFile(b"brought in"))
        storage.save("derived/12/1234abcd", ContentFile(b"derived by older code"))
        cache.store.write("Maps-ours", b"kept")
        Blob.objects.all().delete()
        call_command("tidy_store", verbosity=0)
        self.assertEqual(cache.store.read("Maps-ours"), b"kept", "it may be on its way to the books")
        cache.store.write("Maps-ours", b"kept")
        later = timezone.now() + timedelta(hours=2)
        self.enterContext(patch("store.management.commands.tidy_store.timezone.now", return_value=later))
        call_command("tidy_store", verbosity=0)
        self.assertEqual(cache.sources.read(f"mesh-{digest}"), b"brought in")
        self.assertFalse(storage.exists("derived/12/1234abcd"))
        self.assertEqual(cache.store.read("Maps-ours"), b"kept")


class StatusTests(TestCase):
    def test_it_tells_what_the_store_holds(self) -> None:
        for k in range(3):
            Blob.objects.create(name=f"Maps-{k}", size=2_000_000)
        Blob.objects.create(name="Tile-1", size=500_000_000)
        out = StringIO()
        call_command("store_status", stdout=out)
        self.assertIn("store: 0.51 GB of 20 GB in 4 blobs", out.getvalue())
        self.assertIn("Tile: 500 MB in 1\n  Maps: 6 MB in 3", out.getvalue())


class AloneTests(TransactionTestCase):
    def test_one_maker_at_a_time_over_all_connections(self) -> None:
        store, inside, most = DerivedStore(InMemoryStorage(), 1000), [0], [0]

        def work() -> None:
            try:
                for _ in range(5):
                    with store.alone("Maps-same"):
                        inside[0] += 1
                        most[0] = max(most[0], inside[0])
                        time.sleep(0.005)
                        inside[0] -= 1
            finally:
                connection.close()

        threads = [threading.Thread(target=work) for _ in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(most[0], 1)

    def test_other_names_do_not_wait(self) -> None:
        store, went = DerivedStore(InMemoryStorage(), 1000), threading.Event()

        def other() -> None:
            try:
                with store.alone("Maps-other"):
                    went.set()
            finally:
                connection.close()

        with store.alone("Maps-one"):
            thread = threading.Thread(target=other)
            thread.start()
            self.assertTrue(went.wait(5))
            thread.join()


class ObjectStoreTests(TestCase):
    """The same store on an object store: a server on loopback that speaks its protocol."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        import boto3
        from moto.server import ThreadedMotoServer
        from storages.backends.s3 import S3Storage

        cls.server = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)
        cls.server.start()
        cls.addClassCleanup(cls.server.stop)
        host, port = cls.server.get_host_and_port()
        access = {"access_key": "test", "secret_key": "test", "endpoint_url": f"http://{host}:{port}",
                  "region_name": "us-east-1"}  # fmt: skip
        boto3.client("s3", endpoint_url=access["endpoint_url"], aws_access_key_id="test", aws_secret_access_key="test",
                     region_name="us-east-1").create_bucket(Bucket="cenote")  # fmt: skip
        cls.storage = S3Storage(bucket_name="cenote", file_overwrite=True, **access)

    def test_bytes_go_there_and_come_back_and_are_cleared_out(self) -> None:
        store, sources = DerivedStore(self.storage, 3_000), SourceStore(self.storage)
        self.assertIsNone(store.read("Maps-none"))
        self.assertFalse(store.has("Maps-none"))
        for k in range(4):
            store.write(f"Maps-{k}", bytes([k]) * 1_000)
            Blob.objects.filter(name=f"Maps-{k}").update(used=timezone.now() - timedelta(hours=9 - k))
        self.assertEqual(store.read("Maps-3"), bytes([3]) * 1_000)
        store.clear_out()
        self.assertFalse(store.has("Maps-0"))
        self.assertTrue(store.has("Maps-3"))
        store.write("Maps-a.line", b"first")
        store.write("Maps-a.line", b"second")
        self.assertEqual(store.read("Maps-a.line"), b"second")
        sources.write("heights-b", b"brought in")
        self.assertEqual(sources.read("heights-b"), b"brought in")

    def test_a_cache_stands_on_it(self) -> None:
        store = DerivedStore(self.storage, 10**9)
        made = Cache(store).kept("Maps-cached", lambda: {"a": np.arange(9)}, dict, dict)
        again = Cache(store).kept("Maps-cached", dict, dict, dict)
        np.testing.assert_array_equal(made["a"], again["a"])
