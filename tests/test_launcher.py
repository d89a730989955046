import hashlib
import os
import re
import socket
import sqlite3
import ssl
import subprocess
import sys
import tempfile
from contextlib import closing
from itertools import islice
from pathlib import Path
from unittest import TestCase
from urllib.error import HTTPError
from urllib.request import Request, urlopen

from yellow_sill.core.device_lines import GAUGE, read_line

ROOT = Path(__file__).resolve().parent.parent


class Launcher(TestCase):
    def test_what_it_says_when_it_does_not_understand(self):
        told = subprocess.run(
            [ROOT / "yellow-sill", "paint"], capture_output=True, text=True, cwd="/", check=False
        )
        self.assertEqual((told.returncode, told.stdout), (2, ""))
        self.assertIn("There is no command 'paint'", told.stderr)
        told = subprocess.run([ROOT / "yellow-sill"], capture_output=True, text=True, cwd="/", check=False)
        self.assertEqual(told.returncode, 0)
        for command in ("demo", "run", "test", "calc", "shots", "backup", "restore", "bench", "gauge"):
            self.assertIn(f"\n  {command}", told.stdout)

    def serve(self, command, home, *more):
        environment = {key: value for key, value in os.environ.items() if key != "DJANGO_SETTINGS_MODULE"} | {
            "YELLOW_SILL_HOME": home
        }
        server = subprocess.Popen(
            [sys.executable, "-m", "yellow_sill", command, *more],
            cwd=ROOT,
            env=environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )
        self.addCleanup(server.stdout.close)
        self.addCleanup(server.wait)
        self.addCleanup(server.terminate)
        return server

    def address(self, server):
        """The address it prints, once it listens."""
        said = ""
        for line in server.stdout:
            said += line
            if found := re.search(r"http://localhost:\d+/", line):
                return found[0]
        self.fail(f"it ended without an address: {said}")

    def test_the_simulated_gauge_streams_lines_to_whoever_connects(self):
        told = subprocess.Popen(
            [ROOT / "yellow-sill", "gauge", "--port", "8495", "--sheet", "0.9"],
            stdout=subprocess.PIPE,
            text=True,
            cwd="/",
        )
        self.addCleanup(told.stdout.close)
        self.addCleanup(told.wait)
        self.addCleanup(told.terminate)
        self.assertIn("127.0.0.1:8495", told.stdout.readline())
        good: list[float] = []
        for _ in range(5):  # one place in twenty gives nothing at all: the next is tried, as by hand
            with (
                socket.create_connection(("127.0.0.1", 8495), timeout=10) as stream,
                stream.makefile() as lines,
            ):
                read = (read_line(GAUGE, lines.readline()) for _ in range(120))
                good = list(islice((line.value_mm for line in read if line and line.value_mm), 5))
            if good:
                break
        self.assertEqual(len(good), 5)
        self.assertTrue(all(0.05 <= mm < 2 for mm in good))

    def test_the_demo_opens_signed_in_and_says_what_it_is(self):
        with tempfile.TemporaryDirectory() as home:
            page = urlopen(self.address(self.serve("demo", home, "--port", "8496"))).read().decode()
            self.assertIn("Made-up vehicle", page)
            self.assertIn("D2-04417", page)
            self.doCleanups()

    def test_ones_own_begins_with_the_owner_and_a_taken_port_is_told(self):
        with tempfile.TemporaryDirectory() as home:
            page = urlopen(self.address(self.serve("run", home, "--port", "8497"))).read().decode()
            self.assertIn("an account for you, its owner", page)
            second = self.serve("run", home, "--port", "8497")
            self.assertIn("Try another: --port 8498", second.communicate(timeout=300)[0])
            self.assertIn("nothing to back up yet", self.told("backup", home)[1])
            with closing(sqlite3.connect(Path(home) / "yellow-sill.sqlite3")) as made:
                made.execute(
                    "INSERT INTO auth_user (username, password, is_superuser, is_staff, is_active, first_name, last_name, email, date_joined) "
                    "VALUES ('Wren', '', 0, 0, 1, '', '', '', '2026-02-14')"
                )
                made.commit()
            code, said = self.told("backup", home)
            file = Path(said.removeprefix("Backed up to ").strip())
            self.assertTrue(code == 0 and file.exists(), "also while it runs")
            self.assertIn("is whole", self.told("backup", home, "--check")[1])
            self.assertIn("End it there", self.told("restore", home, str(file))[1])
            self.doCleanups()
            self.assertEqual(self.told("restore", home, __file__)[0], 1)
            # the way back, by what the screen says alone
            (Path(home) / "yellow-sill.sqlite3").write_bytes(b"noise" * 900)
            server = self.serve("run", home, "--port", "8497")
            said = server.communicate(timeout=300)[0]
            self.assertEqual(server.returncode, 1)
            self.assertIn("cannot be opened", said)
            way = re.search(r"yellow-sill restore (\S+)", said)[1]
            self.assertIn("Restored", self.told("restore", home, way)[1])
            page = urlopen(self.address(self.serve("run", home, "--port", "8497"))).read().decode()
            self.assertIn("Sign in", page)
            self.doCleanups()

    def test_on_a_network_it_speaks_https_says_its_fingerprint_and_asks_the_first_visit_for_a_code(self):
        with tempfile.TemporaryDirectory() as home:
            server = self.serve("run", home, "--host", "127.0.0.2", "--port", "8494")
            said = ""
            while "Ctrl-C" not in said:
                said += server.stdout.readline()
            code = re.search(r"type this code there: (\w+)", said)[1]
            served = ssl.get_server_certificate(("127.0.0.2", 8494))
            digest = hashlib.sha256(ssl.PEM_cert_to_DER_cert(served)).hexdigest().upper()
            self.assertIn(":".join(digest[i : i + 2] for i in range(0, 64, 2)), said)
            self.assertIn("https://127.0.0.2:8494/", said)
            trusting = ssl.create_default_context(cadata=served)
            page = urlopen("https://127.0.0.2:8494/", context=trusting)
            self.assertIn("Code", page.read().decode())
            self.assertNotIn(code, str(page.headers))
            self.assertIn("Secure", page.headers["Set-Cookie"])
            self.assertEqual(page.headers["Cache-Control"], "no-store")
            with self.assertRaises(HTTPError):
                urlopen(
                    Request("https://127.0.0.2:8494/", headers={"Host": "elsewhere.example"}),
                    context=trusting,
                )
            self.assertEqual((Path(home) / "https/key.pem").stat().st_mode & 0o777, 0o600)
            self.doCleanups()
            plain = self.serve("run", home, "--host", "127.0.0.2", "--port", "8494", "--plain")
            said = ""
            while "Take care" not in said:
                said += plain.stdout.readline()
            self.assertIn("http://127.0.0.2:8494/", said)
            self.doCleanups()

    def told(self, command, home, *more):
        """What a command said, and its exit code."""
        done = subprocess.run(
            [sys.executable, "-m", "yellow_sill", command, *more],
            cwd=ROOT,
            env={key: value for key, value in os.environ.items() if key != "DJANGO_SETTINGS_MODULE"}
            | {"YELLOW_SILL_HOME": home},
            capture_output=True,
            text=True,
            check=False,
        )
        return done.returncode, done.stdout + done.stderr

    def test_a_database_of_an_earlier_build_is_told_and_left_as_it_is(self):
        with tempfile.TemporaryDirectory() as home:
            database = Path(home) / "yellow-sill.sqlite3"
            with closing(sqlite3.connect(database)) as made:
                made.execute("CREATE TABLE repairs_cut (id INTEGER)")
            before = database.read_bytes()
            server = self.serve("run", home, "--port", "8496")
            told = server.communicate(timeout=300)[0]
            self.assertNotEqual(server.returncode, 0)
            self.assertIn("was made by an earlier build", told)
            self.assertEqual(database.read_bytes(), before)
