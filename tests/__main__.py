"""``./yellow-sill test``: lint, import contracts, checks, migrations, then every test; the last line is the count."""

import os
import subprocess
import sys
import warnings
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
os.environ["DJANGO_SETTINGS_MODULE"] = "yellow_sill.settings.test"
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "1"  # Playwright's own loop runs in the thread of the browser tests
os.chdir(ROOT)


def step(name: str, *command: str) -> int:
    """Run one check; 0 when it passes."""
    print(f"== {name}", flush=True)
    done = subprocess.run([sys.executable, "-m", *command], check=False)
    return int(done.returncode != 0)


def node(name: str, tool: str, *arguments: str) -> int:
    """Run one of node's tools; 0 when it passes."""
    print(f"== {name}", flush=True)
    done = subprocess.run([ROOT / "node_modules" / ".bin" / tool, *arguments], check=False)
    return int(done.returncode != 0)


def main() -> int:
    failed_steps = [
        step("lint", "ruff", "check", "--quiet", "."),
        step("format", "ruff", "format", "--check", "--quiet", "."),
        step("templates", "djhtml", "--check", "--tabwidth", "2", "yellow_sill/web"),
        node(
            "scripts and styles",
            "prettier",
            "--check",
            "--log-level",
            "warn",
            "yellow_sill/web/**/*.{js,css}",
            "tests/js/*.js",
            "*.js",
        ),
        node("scripts", "eslint", "--max-warnings", "0", "."),
        node("types of scripts", "tsc", "--project", "."),
        scripts(),
        contracts(),
        step("types", "mypy"),
        step("system check", "django", "check", "--fail-level", "WARNING"),
        step("missing migrations", "django", "makemigrations", "--check", "--dry-run"),
    ]
    import django

    django.setup()
    from tests.side_by_side import MOST_PROCESSES, Runner

    warnings.filterwarnings("error", module=r"^(yellow_sill|tests)\b")

    print("== tests", flush=True)
    runner = Runner(verbosity=1, interactive=False, parallel=min(MOST_PROCESSES, os.cpu_count() or 1))
    failed = runner.run_tests(sys.argv[1:] or ["tests"]) + sum(failed_steps)
    passed = runner.result.testsRun + len(failed_steps) - failed
    print(f"{passed} passed, {failed} failed", flush=True)
    return 1 if failed else 0


def scripts() -> int:
    """The scripts' own tests, by node's runner; 0 when all pass."""
    print("== tests of scripts", flush=True)
    asked = ["node", "--import", "./tests/js/resolve.js", "--test", "--test-reporter", "dot"]
    done = subprocess.run([*asked, *sorted(map(str, Path("tests/js").glob("*.test.js")))], check=False)
    return int(done.returncode != 0)


def contracts() -> int:
    print("== import contracts", flush=True)
    from importlinter.cli import lint_imports

    return int(lint_imports(no_cache=True) != 0)


if __name__ == "__main__":
    sys.exit(main())
