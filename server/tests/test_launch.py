"""The start command: each thing that can be in its way is a clear line, and nothing is lost."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.test import SimpleTestCase

sys.path.insert(0, str(settings.ROOT))
from launch import common, database, setup
from launch.keeping import FIRST, LONGEST, SOUND, Child, Database


class KernelTests(SimpleTestCase):
    """Compiled kernels go with all sources that any of them may inline."""

    def test_a_change_of_any_kernel_leaves_none_of_those_that_were_compiled(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)

            def digest(**files: str) -> str:
                for file, content in files.items():
                    (folder / f"{file}.py").write_text(content)
                common.kernels_of.cache_clear()
                self.addCleanup(common.kernels_of.cache_clear)
                return common.kernels_of(folder)

            first = digest(inner="@njit\ndef f(): return 1", outer="@njit\ndef g(): return f()", plain="x = 1")
            self.assertEqual(digest(plain="x = 2"), first)
            self.assertNotEqual(digest(inner="@njit\ndef f(): return 2"), first)
            self.assertEqual(digest(inner="@njit\ndef f(): return 1"), first)

    def test_processes_are_told_where_and_what_is_old_goes(self) -> None:
        with tempfile.TemporaryDirectory() as name, patch.object(common, "VAR", Path(name)):
            kept = Path(common.environment()["NUMBA_CACHE_DIR"])
            for path in (kept, kept.parent / "older"):
                path.mkdir(parents=True)
            with patch.object(setup, "environment", common.environment):
                setup.old_kernels()
            self.assertEqual([path.name for path in kept.parent.iterdir()], [kept.name])


class CommandTests(SimpleTestCase):
    """The command itself, in a folder of its own."""

    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)

    def cenote(self, *arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
        env = os.environ | {"CENOTE_VAR": self.folder.name} | environment
        return subprocess.run(
            [str(settings.ROOT / "cenote"), *arguments], env=env, capture_output=True, text=True, timeout=120
        )

    def test_help_and_status_need_no_set_up(self) -> None:
        self.assertIn("start", self.cenote("help").stdout)
        told = self.cenote("status").stdout
        self.assertIn("web: not running", told)
        self.assertIn("database: not running", told)
        self.assertIn("nothing was running", self.cenote("stop").stdout)
        self.assertEqual(self.cenote("dance").returncode, 2)

    def test_a_taken_port_is_told_and_nothing_is_started(self) -> None:
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            done = self.cenote("start", "--port", str(taken.getsockname()[1]))
        self.assertEqual(done.returncode, 1)
        self.assertIn("is in use by another program. Nothing was started", done.stderr)
        self.assertFalse((Path(self.folder.name) / "postgres").exists())

    def test_without_debian_the_missing_programs_are_named(self) -> None:
        # A machine with Python and nothing else.
        tools = Path(self.folder.name) / "bin"
        tools.mkdir()
        for name in ("python3", "sh", "id", "dirname", "env"):
            (tools / name).symlink_to(sys.executable if name == "python3" else f"/usr/bin/{name}")
        done = self.cenote("start", PATH=str(tools))
        self.assertEqual(done.returncode, 1)
        self.assertIn("these programs are missing: nodejs npm", done.stderr)
        self.assertIn("install them, then start again", done.stderr)

    def test_reset_asks_first(self) -> None:
        done = subprocess.run(
            [str(settings.ROOT / "cenote"), "reset"], env=os.environ | {"CENOTE_VAR": self.folder.name}, input="no\n",
            capture_output=True, text=True,
        )  # fmt: skip
        self.assertIn("nothing was changed", done.stdout)


class StateTests(SimpleTestCase):
    """Parts of the command, in a folder of their own."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.var = Path(folder.name)
        for module in (common, setup, database):
            replaced = patch.object(module, "VAR", self.var)
            replaced.start()
            self.addCleanup(replaced.stop)
        quiet = patch.object(setup, "say")
        quiet.start()
        self.addCleanup(quiet.stop)
        state = patch.object(common, "_STATE", self.var / "state.json")
        state.start()
        self.addCleanup(state.stop)

    def test_state_is_replaced_whole_and_private(self) -> None:
        common.write_state(a=1)
        common.write_state(b=2)
        self.assertEqual(common.state(), {"a": 1, "b": 2})
        self.assertEqual((self.var / "state.json").stat().st_mode & 0o777, 0o600)
        (self.var / "state.json").write_text("{half")
        self.assertEqual(common.state(), {})
        self.assertEqual(common.secret("x"), common.secret("x"))

    def test_a_reused_process_number_is_not_taken_for_ours(self) -> None:
        self.assertFalse(common.alive(os.getpid(), "web"))
        self.assertFalse(common.alive(2**22 + 1, "web"))
        ours = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(30)  # config.asgi"])
        try:
            deadline = time.monotonic() + 5
            while not common.alive(ours.pid, "web") and time.monotonic() < deadline:
                time.sleep(0.02)
            self.assertTrue(common.alive(ours.pid, "web"))
        finally:
            ours.kill()
            ours.wait()
        self.assertFalse(common.alive(ours.pid, "web"))

    def test_a_free_port_is_free(self) -> None:
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            self.assertTrue(common.port_taken(port))
            self.assertNotEqual(common.free_port(port), port)

    def test_without_a_network_the_step_is_told_and_not_marked_as_done(self) -> None:
        failing = subprocess.CompletedProcess([], 1, "", "ERROR: no connection to the index")
        with (
            patch("launch.setup.subprocess.run", return_value=failing),
            patch("launch.common.subprocess.run", return_value=failing),
        ):
            with self.assertRaisesRegex(common.Trouble, "(?s)Nothing that was there is lost.*no connection"):
                setup.virtual_environment()
        self.assertNotIn("venv", common.state())

    def test_steps_are_done_once(self) -> None:
        (self.var / "venv" / "bin").mkdir(parents=True)
        (self.var / "venv" / "bin" / "python").touch()
        common.write_state(venv=setup._digest(setup.ROOT / "requirements.lock"))
        with patch("launch.setup.run") as ran:
            setup.virtual_environment()
        ran.assert_not_called()
        common.write_state(venv="of older versions")
        with (
            patch("launch.setup.run") as ran,
            patch("launch.setup.subprocess.run", return_value=subprocess.CompletedProcess([], 0)),
        ):
            setup.virtual_environment()
        self.assertIn("requirements.lock", ran.call_args.args[0][-1])

    def test_a_cluster_left_half_made_is_made_again_and_a_whole_one_is_kept(self) -> None:
        data = self.var / "postgres" / "data"
        data.mkdir(parents=True)
        (data / "PG_VERSION").write_text("15")
        common.write_state(db_port=1)
        ok = subprocess.CompletedProcess([], 0, "1\n", "")
        with patch.multiple(
            database, _control=lambda *a: ok, run=lambda *a, **k: "1", up=lambda: True, _user=lambda: None
        ):
            with patch.object(database, "_make") as made:
                database.start()
            made.assert_called_once()
            common.write_state(db_made=True, db_folder=str(self.var / "postgres"))
            with patch.object(database, "_make") as made:
                database.start()
            made.assert_not_called()

    def test_a_database_that_does_not_start_says_so_and_keeps_its_data(self) -> None:
        common.write_state(db_made=True, db_folder=str(self.var / "postgres"))
        (self.var / "postgres" / "data").mkdir(parents=True)
        (self.var / "postgres" / "data" / "PG_VERSION").write_text("15")
        (self.var / "postgres" / "log").write_text("FATAL: out of shared memory")
        bad = subprocess.CompletedProcess([], 1, "", "could not start")
        with patch.multiple(database, _control=lambda *a: bad, up=lambda: False, _user=lambda: None):
            with self.assertRaisesRegex(common.Trouble, "(?s)Its data is untouched.*out of shared memory"):
                database.start()

    def test_packages_are_asked_for_where_they_cannot_be_installed(self) -> None:
        with patch("launch.setup._node_is_new_enough", return_value=False), patch("launch.setup.os.geteuid", return_value=1000), \
                patch("launch.setup.shutil.which", lambda name: "/usr/bin/apt-get" if name == "apt-get" else None):  # fmt: skip
            with self.assertRaisesRegex(common.Trouble, "As root: apt-get install nodejs npm"):
                setup.debian_packages(tests=False)


class NoticeTests(SimpleTestCase):
    def test_every_locked_package_is_named(self) -> None:
        told = (settings.ROOT / "THIRD_PARTY.md").read_text()
        python = [
            line.split("==")[0]
            for line in (settings.ROOT / "requirements.lock").read_text().splitlines()
            if "==" in line
        ]
        lock = json.loads((settings.ROOT / "web" / "package-lock.json").read_text())
        shipped = [
            path.split("node_modules/")[-1] for path, entry in lock["packages"].items() if path and not entry.get("dev")
        ]
        self.assertEqual([name for name in python + shipped if f"`{name}`" not in told], [])

    def test_locks_name_no_address(self) -> None:
        self.assertNotIn("://", (settings.ROOT / "requirements.lock").read_text())
        self.assertNotIn('"resolved"', (settings.ROOT / "web" / "package-lock.json").read_text())


class PortTests(SimpleTestCase):
    """Two starts at the same moment look for a port before either listens."""

    def start(self, *outcomes: int, taken: set[int]) -> list[int]:
        """Start a cluster whose trials end so; :returns: the ports that were tried."""
        known: dict[str, object] = {"db_made": True, "db_port": 54320}
        tried: list[int] = []

        def control(*arguments: str) -> subprocess.CompletedProcess[str]:
            tried.append(int(arguments[-1].split()[1]))
            code = outcomes[len(tried) - 1]
            if code:
                taken.add(tried[-1])
            return subprocess.CompletedProcess([], code, "", "no listen socket")

        running = patch.object(database, "up", side_effect=lambda: bool(tried) and outcomes[len(tried) - 1] == 0)
        with tempfile.TemporaryDirectory() as folder, running:
            (Path(folder) / "data").mkdir()
            (Path(folder) / "data" / "PG_VERSION").write_text("15")
            with patch.multiple(
                database, folder=lambda: Path(folder), state=lambda: known, _control=control, run=lambda *a, **k: "1",
                write_state=lambda **values: known.update(values), port_taken=lambda port: port in taken,
                free_port=lambda first: next(port for port in range(first, first + 99) if port not in taken),
                secret=lambda name: "x", _programs=lambda: Path("/usr/bin"),
            ):  # fmt: skip
                database.start()
        self.assertEqual(known["db_port"], tried[-1])
        return tried

    def test_the_port_that_it_had_is_taken_again(self) -> None:
        self.assertEqual(self.start(0, taken=set()), [54320])

    def test_another_is_tried_where_somebody_was_quicker(self) -> None:
        tried = self.start(1, 1, 0, taken=set())
        self.assertEqual(len(set(tried)), 3)

    def test_what_fails_for_another_reason_is_told_at_once(self) -> None:
        class Never(set[int]):
            def add(self, port: int) -> None:
                """Nobody else has it."""

        with self.assertRaisesRegex(common.Trouble, "Its data is untouched"):
            self.start(1, 0, taken=Never())


class KeepingTests(SimpleTestCase):
    """Children that end are started again."""

    def setUp(self) -> None:
        self.now = 0.0
        self.started: list[subprocess.Popen[bytes]] = []
        self.addCleanup(lambda: [one.kill() or one.wait() for one in self.started if one.poll() is None])
        self.enterContext(patch("launch.keeping.say"))

    def child(self) -> Child:
        def start() -> subprocess.Popen[bytes]:
            self.started.append(subprocess.Popen(["sleep", "600"]))
            return self.started[-1]

        return Child("sleeper", start, clock=lambda: self.now)

    def killed(self, child: Child) -> None:
        self.started[-1].kill()
        self.started[-1].wait()
        child.tend()

    def test_one_that_is_killed_is_there_again_soon(self) -> None:
        child = self.child()
        child.tend()
        child.tend()
        self.assertEqual(len(self.started), 1, "what runs is left alone")
        self.killed(child)
        self.assertEqual(len(self.started), 1, "not in the same moment")
        self.now += FIRST
        child.tend()
        self.assertEqual(len(self.started), 2)
        self.assertIsNone(self.started[1].poll())

    def test_what_it_has_started_itself_does_not_outlive_it(self) -> None:
        def start() -> subprocess.Popen[bytes]:
            command = ["sh", "-c", "sleep 600 & echo $!; wait"]
            self.started.append(subprocess.Popen(command, stdout=subprocess.PIPE, start_new_session=True))
            return self.started[-1]

        child = Child("parent", start, clock=lambda: self.now)
        child.tend()
        assert self.started[0].stdout is not None
        grandchild = Path(f"/proc/{int(self.started[0].stdout.readline())}/stat")
        self.assertNotIn(" Z ", grandchild.read_text())
        self.killed(child)
        until = time.monotonic() + 30
        while grandchild.exists() and " Z " not in grandchild.read_text() and time.monotonic() < until:
            time.sleep(0.02)
        self.assertTrue(not grandchild.exists() or " Z " in grandchild.read_text())
        self.started[0].stdout.close()

    def test_one_that_ends_again_and_again_is_tried_less_and_less_often(self) -> None:
        child = self.child()
        child.tend()
        waits = []
        for _ in range(9):
            self.killed(child)
            begun, count = self.now, len(self.started)
            while len(self.started) == count:
                self.now += 0.25
                child.tend()
            waits.append(self.now - begun)
        self.assertEqual(waits[:4], [0.5, 1, 2, 4])
        self.assertEqual(max(waits), LONGEST)
        self.now += SOUND
        self.killed(child)
        self.now += FIRST
        child.tend()
        self.assertIsNotNone(child.process, "who lived long had nothing wrong with it")

    def test_a_database_that_ended_is_started_and_one_that_cannot_be_is_tried_again(self) -> None:
        up, tried = [True], []

        def start() -> None:
            tried.append(self.now)
            if len(tried) < 3:
                raise common.Trouble("no room on the disk")
            up[0] = True

        kept = Database(lambda: up[0], start, clock=lambda: self.now)
        kept.tend()
        self.assertEqual(tried, [])
        up[0] = False
        while not up[0]:
            self.now += 0.25
            kept.tend()
        self.assertEqual(len(tried), 3)
        self.assertGreater(tried[2] - tried[1], tried[1] - tried[0])
