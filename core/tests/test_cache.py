"""Keeping what is derived: in memory within a limit, in a store for all, and never half of anything."""

from __future__ import annotations

import threading
import time
import unittest
from typing import Any
from unittest.mock import patch

import numpy as np

from cenote.derive.cache import Cache, memory_cache
from cenote.derive.memory import Memory
from cenote.derive.store import MemoryStore, pack_arrays, unpack_arrays
from cenote.parallel import WORKERS, over_rows


def kept(cache: Cache, name: str, make) -> dict[str, np.ndarray]:
    """Arrays of a key, as they are."""
    return cache.kept(name, make, dict, dict)


def never() -> dict[str, np.ndarray]:
    raise AssertionError("made again")


class CacheTests(unittest.TestCase):
    def test_made_once_even_when_asked_for_at_once(self) -> None:
        cache, made = memory_cache(), []

        def make() -> int:
            time.sleep(0.02)
            made.append(1)
            return 7

        threads = [threading.Thread(target=lambda: cache.get("a", make)) for _ in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual((len(made), cache.get("a", make)), (1, 7))

    def test_two_processes_make_it_once(self) -> None:
        store, made = MemoryStore(), []

        def make() -> dict[str, np.ndarray]:
            time.sleep(0.05)
            made.append(1)
            return {"a": np.ones(3)}

        # Two caches on one store are what two processes are.
        threads = [threading.Thread(target=kept, args=(Cache(store), "a", make)) for _ in range(3)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(len(made), 1)

    def test_a_failure_is_not_kept(self) -> None:
        cache = memory_cache()

        def fail() -> int:
            raise ValueError

        with self.assertRaises(ValueError):
            cache.get("a", fail)
        self.assertEqual(cache.get("a", lambda: 3), 3)

    def test_a_damaged_blob_is_a_miss_and_is_said(self) -> None:
        store = MemoryStore()
        whole = kept(Cache(store), "a", lambda: {"a": np.arange(50.0)})
        for content in (b"", b"PK", store.content["a"][:-40], b"\0" * 500):
            with self.subTest(content[:4]):
                store.content["a"] = content
                with self.assertLogs("cenote.derive", "WARNING") as said:
                    again = kept(Cache(store), "a", lambda: {"a": np.arange(50.0)})
                self.assertIn("damaged", said.output[0])
                np.testing.assert_array_equal(again["a"], whole["a"])
                kept(Cache(store), "a", never)

    def test_another_process_finds_what_is_in_the_store(self) -> None:
        store = MemoryStore()
        kept(Cache(store), "n3", lambda: {"a": np.full(5, 3)})
        self.assertTrue(Cache(store).has("n3"))
        self.assertFalse(Cache(store).has("n9"))
        np.testing.assert_array_equal(kept(Cache(store), "n3", never)["a"], 3)

    def test_arrays_survive_packing(self) -> None:
        arrays = {"a": np.arange(6, dtype=np.int32).reshape(2, 3), "b": np.zeros(0, np.float32)}
        back = unpack_arrays(pack_arrays(arrays))
        for name, array in arrays.items():
            np.testing.assert_array_equal(back[name], array)

    def test_what_another_thread_came_in_the_way_of_is_read_again(self) -> None:
        content, load, asked = pack_arrays({"a": np.ones(2)}), np.load, []

        def load_at_last(*given: Any, **how: Any) -> Any:
            asked.append(1)
            if len(asked) < 3:
                raise SystemError("AST constructor recursion depth mismatch (before=195, after=137)")
            return load(*given, **how)

        with patch("numpy.load", load_at_last):
            np.testing.assert_array_equal(unpack_arrays(content)["a"], 1)
        with patch("numpy.load", side_effect=SystemError("always")), self.assertRaises(ValueError):
            unpack_arrays(content)


class MemoryTests(unittest.TestCase):
    def test_the_least_recently_used_goes_first_while_too_much_is_held(self) -> None:
        now, held = [0.0], [0]
        memory = Memory(100, lambda: held[0], lambda: now[0])
        for k in range(40):
            now[0] += 10
            memory.keep(f"n{k}", k)
        memory.peek("n0")
        # From here on each value let go of frees ten bytes.
        left = len(memory)
        memory._resident = lambda: 100 + 10 * (len(memory) - left + 12)
        memory.shrink()
        self.assertIn("n0", memory)
        self.assertNotIn("n1", memory)
        self.assertIn("n39", memory)
        self.assertTrue(left - 20 < len(memory) <= left - 12, len(memory))

    def test_what_is_being_worked_on_stays_while_there_is_some_room(self) -> None:
        """Work that reads one large thing again and again for many small ones does not make it anew each time."""
        now, held = [0.0], [0]
        memory = Memory(100, lambda: held[0], lambda: now[0])
        memory.keep("old", 0)
        now[0] = 100
        memory.keep("large", 0)
        held[0] = 120
        for k in range(50):
            now[0] += 1
            self.assertTrue(memory.peek("large")[0])
            memory.keep(f"n{k}", k)
        self.assertNotIn("old", memory)
        self.assertIn("large", memory)
        self.assertLess(len(memory), 15)
        self.assertEqual(Memory(100, most=300).most, 300)
        # Far beyond the limit nothing but the latest is safe.
        held[0] = 200
        memory.keep("last", 0)
        self.assertEqual(len(memory), 8)

    def test_looking_for_room_that_is_not_there_takes_little_of_the_time(self) -> None:
        now, looks = [0.0], []

        def gave() -> None:
            now[0] += 0.1
            looks.append(now[0])

        memory = Memory(100, lambda: 110, lambda: now[0])
        with patch("cenote.derive.memory.give_back", gave):
            for k in range(1000):
                now[0] += 0.01
                memory.keep(f"n{k % 5}", k)
        self.assertLess(len(looks), 20)
        self.assertGreater(len(looks), 5)

    def test_the_latest_stay_however_full_it_is(self) -> None:
        memory = Memory(1, lambda: 1000)
        for k in range(50):
            memory.keep(f"n{k}", k)
        self.assertEqual(len(memory), 8)
        self.assertIn("n49", memory)

    def test_what_is_kept_briefly_goes_for_others_that_are(self) -> None:
        cache = Cache(MemoryStore())
        made: list[str] = []
        for k in [*range(12), 0, *range(12, 23), 0, 1]:
            cache.get(f"n{k}", lambda k=k: made.append(f"n{k}"), briefly=True)
        self.assertEqual(made.count("n0"), 1, "it was asked for in between")
        self.assertEqual(made.count("n1"), 2)
        self.assertEqual(len(cache.memory), 0)

    def test_what_the_process_holds_stays_within_the_limit(self) -> None:
        from cenote.derive.memory import resident_bytes

        limit = resident_bytes() + 60_000_000
        now = [0.0]
        memory = Memory(limit, clock=lambda: now[0])
        for k in range(60):
            now[0] += 10
            memory.keep(f"n{k}", np.ones(1_000_000))
        self.assertLess(resident_bytes(), limit + 20_000_000)
        self.assertLess(len(memory), 20)


class ParallelTests(unittest.TestCase):
    def test_nested_calls_never_wait_for_each_other(self) -> None:
        done = []

        def inner(first: int, beyond: int) -> None:
            done.append(beyond - first)

        def outer(first: int, beyond: int) -> None:
            time.sleep(0.01)
            over_rows(inner, 8)

        threads = [threading.Thread(target=over_rows, args=(outer, 4 * WORKERS), daemon=True) for _ in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(timeout=20)
        self.assertFalse(any(thread.is_alive() for thread in threads), "deadlock")
        self.assertEqual(sum(done) % 8, 0)
