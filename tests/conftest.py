"""A server on its own data for tests that need a real one, and people of a team."""

import fcntl
import os
import random
import shutil
import signal
import socket
import ssl
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings

from tests.plans import ROOT

# Speed is measured by `make bench`, never by a test: a busy machine is not a fault.
settings.register_profile("outrigger", deadline=None)
settings.load_profile("outrigger")

# Servers are started by the dozen: what they compile is kept.
os.environ.pop("PYTHONDONTWRITEBYTECODE", None)


def free_port() -> int:
    """A port that is free together with the next, below those that the system hands to connections of its own."""
    while True:
        port = random.randrange(20_000, 32_000)
        try:
            for one in (port, port + 1):
                with socket.socket() as tried:
                    tried.bind(("127.0.0.1", one))
            return port
        except OSError:
            continue


def manage(env: dict[str, str], *arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, str(ROOT / "server" / "manage.py"), *arguments]
    return subprocess.run(command, env=env, check=True, capture_output=True, text=True)


def environment(var: Path, https: bool = False) -> dict[str, str]:
    return {
        **os.environ, "OUTRIGGER_VAR": str(var), "PYTHONPATH": f"{ROOT}:{ROOT / 'server'}", "OUTRIGGER_HTTPS": str(int(https)),
        "OUTRIGGER_CELL_KEPT_S": "27",
    }  # fmt: skip


class Server:
    """The application on a folder of data of its own, in its own process, so that it can be killed and started again.

    A folder without data gets the demo's ravine; where `made_in` is set, migrated and loaded there once for all of a run's servers and copied."""

    made_in: Path | None = None

    @staticmethod
    def _load(env: dict[str, str]) -> None:
        for command in (("migrate", "-v0", "--skip-checks"), ("load_demo", "--only", "alder-gill")):
            manage(env, *command)

    @classmethod
    def _loaded(cls, made_in: Path) -> Path:
        """The demo's data, made by whoever comes first; the others wait for it."""
        folder = made_in / "loaded"
        with (made_in / "loaded.lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            if not folder.exists():
                making = made_in / "loading"
                cls._load(environment(making))
                making.rename(folder)
        return folder

    def __init__(self, var: Path, https: bool = False):
        self.port = free_port()
        self.url = f"http{'s' if https else ''}://127.0.0.1:{self.port}"
        self.trusted = ssl.create_default_context()
        # By name, what a browser keeps of somebody who has signed in.
        self.signed_in: dict[str, Any] = {}
        self.callers: dict[str, list[Any]] = {}
        self.authority = var / "tls" / "authority.crt"
        self.env = environment(var, https)
        if not (var / "outrigger.sqlite3").exists():
            if self.made_in is None:
                self._load(self.env)
            else:
                shutil.copytree(self._loaded(self.made_in), var, dirs_exist_ok=True)
        self.start()

    def manage(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        return manage(self.env, *arguments)

    def start(self) -> None:
        command = [sys.executable, str(ROOT / "server" / "manage.py"), "serve", f"--listen=127.0.0.1:{self.port}"]
        self.process = subprocess.Popen(command, env=self.env)
        for _ in range(1200):
            try:
                if self.url.startswith("https"):
                    self.trusted = ssl.create_default_context(cafile=str(self.authority))
                urllib.request.urlopen(f"{self.url}/api/caution", timeout=1, context=self.trusted)
                return
            except OSError:
                time.sleep(0.05)
        raise RuntimeError("the server did not come up")

    def kill(self) -> None:
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()


@pytest.fixture(scope="session", autouse=True)
def _demo_folder(tmp_path_factory: pytest.TempPathFactory) -> None:
    """Where all workers find the demo's data."""
    own = tmp_path_factory.getbasetemp()
    Server.made_in = own.parent if "PYTEST_XDIST_WORKER" in os.environ else own


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    one = Server(tmp_path_factory.mktemp("var"))
    yield one
    one.kill()
