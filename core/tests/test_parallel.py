"""Kernels on all cores, also in a process that was forked from one whose pool was at work."""

from __future__ import annotations

import os
import signal
import time
import unittest

import numpy as np

from cenote.parallel import over_rows


class ForkTests(unittest.TestCase):
    def test_a_forked_process_has_threads_of_its_own(self) -> None:
        done = np.zeros(100, bool)

        def kernel(first: int, beyond: int) -> None:
            done[first:beyond] = True

        over_rows(kernel, 100)
        self.assertTrue(done.all())
        child = os.fork()
        if not child:
            done[:] = False
            over_rows(kernel, 100)
            os._exit(0 if done.all() else 1)
        deadline = time.monotonic() + 20
        ended, status = os.waitpid(child, os.WNOHANG)
        while not ended and time.monotonic() < deadline:
            time.sleep(0.02)
            ended, status = os.waitpid(child, os.WNOHANG)
        if not ended:
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
        self.assertTrue(ended, "it waits for threads that were left behind")
        self.assertEqual(os.waitstatus_to_exitcode(status), 0)


if __name__ == "__main__":
    unittest.main()
