"""The test runner: Django's own, with all test folders of the project."""

from __future__ import annotations

import logging
import os
import shutil
import tempfile
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.test.runner import DiscoverRunner
from django.test.utils import override_settings

# Called when all tests have run and before the test database is dropped, which nobody may use by then.
at_end: list[Callable[[], None]] = []

TEST_FOLDERS = ("core/tests", "server/tests", "tests")


class CenoteRunner(DiscoverRunner):
    """Runs core, server and browser tests together; derived data goes to a folder that is thrown away."""

    def build_suite(self, test_labels: Any = None, **kwargs: Any) -> Any:
        """All folders where no label is given."""
        labels = list(test_labels or [])
        if labels:
            return super().build_suite(labels, **kwargs)
        suites = []
        for folder in TEST_FOLDERS:
            self.top_level = str(settings.ROOT / folder)
            suites.append(super().build_suite([self.top_level], **kwargs))
        whole = suites[0]
        for suite in suites[1:]:
            whole.addTests(suite)
        return whole

    def setup_test_environment(self, **kwargs: Any) -> None:
        """Keep the tests' store apart from the real one, for this process and those it starts."""
        super().setup_test_environment(**kwargs)
        # Browser tests use Playwright's synchronous interface, which runs an event loop in the test's own thread.
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        # Refusals are what many tests ask for; they need no line in the log.
        logging.getLogger("django.request").setLevel(logging.ERROR)
        self._folder = tempfile.mkdtemp(prefix="cenote-test-")
        os.environ["CENOTE_STORE"] = self._folder
        storages: dict[str, Any] = settings.STORAGES
        folder = storages["default"] | {"OPTIONS": {"location": self._folder}}
        self._storages = override_settings(STORAGES=storages | {"default": folder})
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
