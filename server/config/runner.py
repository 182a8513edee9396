"""The test runner: Django's own, with all test folders of the project."""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.test.runner import DiscoverRunner, partition_suite_by_case
from django.test.utils import override_settings

# Called when all tests have run and before the test database is dropped, which nobody may use by then.
at_end: list[Callable[[], None]] = []

TEST_FOLDERS = ("core/tests", "server/tests", "tests")


class CenoteRunner(DiscoverRunner):
    """Runs core, server and browser tests together; derived data goes to a folder that is thrown away."""

    def build_suite(self, test_labels: Any = None, **kwargs: Any) -> Any:
        """The tests of folders, modules, classes or single tests by their names; all where none is given.

        Folders are named from the root of the project, all else as in ``test_jobs.JobTests``.
        """
        parallel, self.parallel = self.parallel, 1
        whole = unittest.TestSuite()
        for folder in TEST_FOLDERS:
            if (place := str(settings.ROOT / folder)) not in sys.path:
                sys.path.insert(0, place)
        for label in list(test_labels or []) or TEST_FOLDERS:
            named = Path(settings.ROOT) / label
            self.top_level = str(named) if named.is_dir() else None
            whole.addTests(super().build_suite([str(named) if named.is_dir() else label], **kwargs))
        # As Django does it for one folder: whole classes are handed out to processes, each with a database of its own.
        cases = partition_suite_by_case(whole)
        self.parallel = max(1, min(parallel, len(cases)))
        if self.parallel > 1:
            return self.parallel_test_suite(cases, self.parallel, self.failfast, self.debug_mode, self.buffer)
        return whole

    def setup_test_environment(self, **kwargs: Any) -> None:
        """Keep the tests' store apart from the real one, for this process and those it starts."""
        super().setup_test_environment(**kwargs)
        # Browser tests use Playwright's synchronous interface, which runs an event loop in the test's own thread.
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        self._folder = tempfile.mkdtemp(prefix="cenote-test-")
        os.environ["CENOTE_STORE"] = self._folder
        storages: dict[str, Any] = settings.STORAGES
        folder = storages["default"] | {"OPTIONS": {"location": self._folder}}
        # Hundreds of tests hold on to what they made, in the same process: that is no reason to let go of anything.
        # Passwords of tests are nobody's secret: a quick hash spares each of hundreds of accounts half a second.
        self._storages = override_settings(STORAGES=storages | {"default": folder}, MEMORY_BYTES=8 * 1024**3,
                                           PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])  # fmt: skip
        self._storages.enable()

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        """End what uses the test database first."""
        for end in at_end:
            end()
        super().teardown_databases(old_config, **kwargs)

    def teardown_test_environment(self, **kwargs: Any) -> None:
        """Throw the tests' store away."""
        self._storages.disable()
        super().teardown_test_environment(**kwargs)
        shutil.rmtree(self._folder, ignore_errors=True)
