"""``python -m yellow_sill``: run, demo, backup, restore, shots, bench, terms. The launcher calls this inside its own environment."""

import argparse
import hashlib
import os
import shutil
import sqlite3
import sys
from contextlib import closing
from datetime import date
from pathlib import Path


def _django(settings: str) -> None:
    os.environ["DJANGO_SETTINGS_MODULE"] = f"yellow_sill.settings.{settings}"
    import django

    django.setup()


def _serve(host: str, port: int, what: str) -> None:
    """Serve until Ctrl-C. Says the address only once the port is ours."""
    from django.core.wsgi import get_wsgi_application
    from waitress import create_server

    from yellow_sill.web.frame.jobs import take_up
    from yellow_sill.web.logbook.views import MOST_BUNDLE_BYTES

    try:
        server = create_server(
            get_wsgi_application(),
            host=host,
            port=port,
            threads=6,
            ident=None,
            max_request_body_size=MOST_BUNDLE_BYTES + 1_000_000,
        )
    except OSError as error:
        sys.exit(f"Port {port} on {host} cannot be used ({error.strerror}). Try another: --port {port + 1}")
    shown = "localhost" if host in ("127.0.0.1", "::1") else host
    print(
        f"{what}\n\n    http://{shown}:{port}/\n\nOpen this address in a browser. Ctrl-C ends it.", flush=True
    )
    take_up()
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        server.close()


def _allow(host: str) -> None:
    """Let the browser use the address that was asked for; every name of this machine when it listens to all."""
    if host not in ("127.0.0.1", "localhost", "::1"):
        hosts = "*" if host in ("0.0.0.0", "::") else f"localhost,127.0.0.1,[::1],{host}"  # noqa: S104 - the person asked for it
        os.environ.setdefault("YELLOW_SILL_HOSTS", hosts)


def _require_todays_tables(database: Path) -> None:
    """A database that an earlier build made has other tables: it is told, and left as it is."""
    if not database.is_file():
        return
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as opened:
        old = opened.execute("SELECT 1 FROM sqlite_master WHERE name = 'repairs_cut'").fetchone()
    if old:
        sys.exit(
            f"{database} was made by an earlier build and cannot be opened by this one. Nothing in it is changed. Start the earlier "
            "build, export each vehicle in its Logbook, move the file aside, and open the bundles here."
        )


def run(args: argparse.Namespace) -> None:
    _allow(args.host)
    _django("base")
    from django.conf import settings
    from django.core.management import call_command

    settings.DATA.mkdir(parents=True, exist_ok=True)
    _require_todays_tables(Path(settings.DATABASES["default"]["NAME"]))
    call_command("migrate", verbosity=0)
    from django.utils import timezone

    from yellow_sill.web.frame.pictures import sweep

    if gone := sweep(timezone.now()):
        print(
            f"{len(gone)} files of photos that were deleted more than a month ago are taken away.", flush=True
        )
    _serve(args.host, args.port, f"Yellow Sill. Your data: {settings.DATA}")


def build_demo() -> None:
    """Throw the demo's data away and build it afresh. Django must be set up with the demo settings."""
    from django.conf import settings
    from django.core.management import call_command

    if settings.DATA.exists():
        shutil.rmtree(settings.DATA)
    settings.DATA.mkdir(parents=True)
    call_command("migrate", run_syncdb=True, verbosity=0)
    from yellow_sill.demo.build import build

    build(date.today())  # noqa: DTZ011 - the garage's own day


def fresh_demo() -> None:
    """The demo as new: built once for this code and day, then copied from what was built."""
    from django.conf import settings

    from yellow_sill.settings.base import data_folder

    marks = sorted(f"{path}{path.stat().st_mtime_ns}" for path in Path(__file__).parent.rglob("*.py"))
    key = hashlib.sha256("".join([date.today().isoformat(), *marks]).encode()).hexdigest()[:16]  # noqa: DTZ011 - the garage's own day
    kept = data_folder() / "demo-as-built" / key
    if not kept.is_dir():
        build_demo()
        from django.db import connections

        connections.close_all()
        shutil.rmtree(kept.parent, ignore_errors=True)
        unfinished = kept.with_name("unfinished")
        shutil.copytree(settings.DATA, unfinished)
        unfinished.rename(kept)
        return
    shutil.rmtree(settings.DATA, ignore_errors=True)
    shutil.copytree(kept, settings.DATA)


def demo(args: argparse.Namespace) -> None:
    _allow(args.host)
    if "YELLOW_SILL_DEMO_HOME" not in os.environ:
        # one folder a port, so that two demos do not pull the data from under each other
        from yellow_sill.settings.base import data_folder

        os.environ["YELLOW_SILL_DEMO_HOME"] = str(data_folder() / f"demo-{args.port}")
    _django("demo")
    fresh_demo()
    _simulated_devices()
    _serve(args.host, args.port, "Yellow Sill, demo. Its vehicle is made up and is rebuilt at each start.")


def _simulated_devices() -> None:
    """The demo brings devices of its own, on free ports, unless one is named."""
    from threading import Thread

    from django.conf import settings

    from yellow_sill.devices.simulated import serve

    for name in settings.DEVICES:
        if f"YELLOW_SILL_{name.upper()}" not in os.environ:
            device = serve(name, port=0)
            settings.DEVICES[name] = f"127.0.0.1:{device.server_address[1]}"
            Thread(target=device.serve_forever, daemon=True).start()


def backup(args: argparse.Namespace) -> None:
    _django("base")
    from yellow_sill.backup import make_backup

    print(f"Backed up to {make_backup(Path(args.file) if args.file else None)}")


def restore(args: argparse.Namespace) -> None:
    _django("base")
    from yellow_sill.backup import BadBackup, restore_backup

    try:
        kept = restore_backup(Path(args.file))
    except BadBackup as error:
        sys.exit(str(error))
    print("Restored." + (f" What was here before is kept in {kept}" if kept else ""))


def terms(args: argparse.Namespace) -> None:
    from yellow_sill.demo.terms import write_catalogue

    write_catalogue()


def shots(args: argparse.Namespace) -> None:
    from yellow_sill.demo.shots import take

    take(Path(args.folder))


def bench(args: argparse.Namespace) -> None:
    if args.what == "adjust-rounds":
        from yellow_sill.demo.rounds import main as rounds

        raise SystemExit(rounds(args.rounds))
    from yellow_sill.demo.bench import main

    sys.exit(main())


def main() -> None:
    parser = argparse.ArgumentParser(prog="yellow-sill")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, work in (("run", run), ("demo", demo)):
        sub = commands.add_parser(name)
        sub.add_argument("--host", default="127.0.0.1")
        sub.add_argument("--port", type=int, default=8417 if name == "run" else 8418)
        sub.set_defaults(work=work)
    for name, work, option in (("backup", backup, {"nargs": "?"}), ("restore", restore, {})):
        sub = commands.add_parser(name)
        sub.add_argument("file", **option)
        sub.set_defaults(work=work)
    commands.add_parser("terms").set_defaults(work=terms)
    sub = commands.add_parser("shots")
    sub.add_argument("folder", nargs="?", default="docs/screenshots")
    sub.set_defaults(work=shots)
    benched = commands.add_parser("bench")
    benched.add_argument("what", nargs="?", choices=["adjust-rounds"])
    benched.add_argument("rounds", nargs="?", type=int, default=100)
    benched.set_defaults(work=bench)
    args = parser.parse_args()
    args.work(args)


if __name__ == "__main__":
    main()
