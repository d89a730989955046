"""``python -m yellow_sill``: run, demo, backup, restore, shots, bench, terms. The launcher calls this inside its own environment."""

import argparse
import hashlib
import os
import secrets
import shutil
import sys
from datetime import date, datetime
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from yellow_sill.home.look_over import LookedOver
    from yellow_sill.home.places import Home


def _django(settings: str) -> None:
    os.environ["DJANGO_SETTINGS_MODULE"] = f"yellow_sill.settings.{settings}"
    import django

    django.setup()


def _serve(args: argparse.Namespace, what: str, home: "Home | None" = None) -> None:
    """Serve until Ctrl-C. Says the address only once the port is ours. Args: home: speaks https with its certificate."""
    from django.core.wsgi import get_wsgi_application

    from yellow_sill.serving import LOOPBACK, addresses_of, serve_https, serve_plain
    from yellow_sill.web.frame.jobs import take_up
    from yellow_sill.web.logbook.views import MOST_BUNDLE_BYTES

    on_network = args.host not in LOOPBACK
    secure = on_network and home is not None
    names = addresses_of(args.host) if on_network else ["localhost"]

    def ready() -> None:
        scheme = "https" if secure else "http"
        shown = "\n".join(
            f"    {scheme}://{f'[{name}]' if ':' in name else name}:{args.port}/" for name in names
        )
        print(f"{what}\n\n{shown}\n\nOpen this address in a browser. Ctrl-C ends it.", flush=True)
        if on_network and not secure:
            print(PLAIN, flush=True)
        take_up()

    app, most = get_wsgi_application(), MOST_BUNDLE_BYTES + 1_000_000
    if secure and home is not None:
        serve_https(app, home, args.host, args.port, most, ready)
    else:
        serve_plain(app, args.host, args.port, most, ready)


PLAIN = "Take care: this is plain http on a network. Whoever is on it can read passwords and pages, and come in as you."


def _allow(args: argparse.Namespace, *, secure: bool) -> None:
    """Let the browser use the addresses that it listens on, and nobody read its cookies on the way."""
    from yellow_sill.serving import LOOPBACK, allowed_hosts

    if args.host not in LOOPBACK:
        os.environ.setdefault("YELLOW_SILL_HOSTS", ",".join(allowed_hosts(args.host)))
        os.environ["YELLOW_SILL_SHARED"] = "https" if secure else "http"


def _tell(looked: "LookedOver") -> None:
    """Say what was found in the data folder. Ends the program where it must not start."""
    for note in looked.notes:
        print(note, flush=True)
    if looked.fault:
        sys.exit(looked.fault)


def run(args: argparse.Namespace) -> None:
    from yellow_sill.home.look_over import first_look, look_over
    from yellow_sill.home.places import Busy, Home, data_folder, in_use

    home = Home.at(data_folder())
    _tell(first_look(home))
    _allow(args, secure=not args.plain)
    _django("base")
    from yellow_sill.web.keeping.services import known as known_migrations

    known = known_migrations()
    try:
        with in_use(home, alone=True):
            looked = look_over(home, known)
    except Busy:  # another one runs here: then nothing was broken off
        looked = look_over(home, known)
    except OSError as error:
        sys.exit(
            f"{home.folder} cannot be looked over: {error}. Nothing is changed that the next start would not finish."
        )
    _tell(looked)
    try:
        with in_use(home):
            _run(home, known, args, upgrade=looked.older)
    except Busy as error:
        sys.exit(str(error))


def _run(home: "Home", known: frozenset[tuple[str, str]], args: argparse.Namespace, *, upgrade: bool) -> None:
    from django.core.management import call_command
    from django.utils import timezone

    from yellow_sill.home.backup import NothingYet, make_backup
    from yellow_sill.home.keeper import Keeper
    from yellow_sill.home.places import HomeError, tighten
    from yellow_sill.web.frame.pictures import sweep
    from yellow_sill.web.record.dossier_services import sweep_dossiers

    if upgrade:
        try:
            kept = make_backup(home, None, known, now=_now(), why="before-upgrade")
            said = f"An older release made this database: it is brought up now. Before that it was backed up to {kept}"
            print(said, flush=True)
        except NothingYet:
            pass  # a first start that was broken off: it goes on
        except (HomeError, OSError) as error:
            sys.exit(
                f"An older release made this database. It is not brought up before it is backed up: {error}"
            )
    call_command("migrate", verbosity=0)
    tighten(home)
    if gone := sweep(timezone.now()):
        print(
            f"{len(gone)} files of photos that were deleted more than a month ago are taken away.", flush=True
        )
    if gone := sweep_dossiers(timezone.now()):
        print(f"{gone} files that belonged to no dossier are taken away.", flush=True)
    _ask_for_a_code(args.host)
    keeper = Keeper(home, known, _now)
    keeper.begin()
    try:
        _serve(args, f"Yellow Sill. Your data: {home.folder}", None if args.plain else home)
    finally:
        keeper.end()


def _ask_for_a_code(host: str) -> None:
    """Where others can reach this address and there is no account yet, the first visit must know a code."""
    from django.conf import settings
    from django.contrib.auth import get_user_model

    from yellow_sill.serving import LOOPBACK

    if host not in LOOPBACK and not get_user_model().objects.exists():
        settings.WELCOME_CODE = secrets.token_hex(4).upper()
        print(
            f"Others can reach this address. To make the first account, type this code there: {settings.WELCOME_CODE}",
            flush=True,
        )


def _now() -> datetime:
    return datetime.now().astimezone()


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

    from yellow_sill.home.places import data_folder

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
    _allow(args, secure=False)
    if "YELLOW_SILL_DEMO_HOME" not in os.environ:
        # one folder a port, so that two demos do not pull the data from under each other
        from yellow_sill.home.places import data_folder

        os.environ["YELLOW_SILL_DEMO_HOME"] = str(data_folder() / f"demo-{args.port}")
    _django("demo")
    fresh_demo()
    _simulated_devices()
    _serve(args, "Yellow Sill, demo. Its vehicle is made up and is rebuilt at each start.")


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
    _simulated_suppliers()


def _simulated_suppliers() -> None:
    """The demo's made-up firms answer on free ports; their addresses are told to the demo's suppliers."""
    from threading import Thread

    from yellow_sill.devices.supplier import FIRMS, serve
    from yellow_sill.web.parts.models import Supplier

    for firm in FIRMS:
        shop = serve(firm, port=0)
        Thread(target=shop.serve_forever, daemon=True).start()
        Supplier.objects.filter(name=firm).update(address=f"http://127.0.0.1:{shop.server_address[1]}")


def backup(args: argparse.Namespace) -> None:
    from yellow_sill.home.backup import make_backup, newest_whole, rehearse
    from yellow_sill.home.places import Home, HomeError, data_folder

    home = Home.at(data_folder())
    try:
        _django("base")
        from yellow_sill.web.keeping.services import known as known_migrations

        known = known_migrations()
        if not args.check:
            made = make_backup(home, Path(args.file) if args.file else None, known, now=_now())
            print(f"Backed up to {made}")
            return
        source = Path(args.file) if args.file else None
        if source is None:
            found = newest_whole(home, known)
            source = found[0] if found else None
        if source is None:
            raise HomeError(f"There is no whole backup in {home.backups}.")
        told = rehearse(home, source, known)
    except HomeError as error:
        sys.exit(str(error))
    except OSError as error:
        sys.exit(f"Not done: {error.filename or home.folder}: {error.strerror}.")
    print(f"{source}\nwas brought back into a scratch folder and is whole. Made on {told.day}: {told.words}.")


def restore(args: argparse.Namespace) -> None:
    from yellow_sill.home.look_over import first_look
    from yellow_sill.home.places import Home, HomeError, data_folder
    from yellow_sill.home.restore import restore as bring_back

    home = Home.at(data_folder())
    _tell(first_look(home))
    try:
        _django("base")
        from yellow_sill.web.keeping.services import known

        kept = bring_back(home, Path(args.file), known(), now=_now())
    except HomeError as error:
        sys.exit(str(error))
    except OSError as error:
        sys.exit(
            f"Not brought back: {error.filename or home.folder}: {error.strerror}. Type the same again once that is mended."
        )
    print("Restored." + (f" What was here before is kept in {kept}" if kept else ""))


def terms(args: argparse.Namespace) -> None:
    from yellow_sill.demo.terms import write_catalogue

    write_catalogue()


def verify(args: argparse.Namespace) -> None:
    """Say whether a dossier is still as it was made."""
    from yellow_sill.core.errors import CoreError
    from yellow_sill.core.formats.dossier import verify as looked

    try:
        told = looked(Path(args.file).read_bytes())
    except OSError as error:
        raise SystemExit(f"{args.file} cannot be read: {error.strerror}.") from None
    except CoreError as error:
        raise SystemExit(str(error.message)) from None
    print(told.words)
    raise SystemExit(0 if told.whole else 1)


def bundle(args: argparse.Namespace) -> None:
    """Say all that is wrong with a bundle, a line each."""
    from yellow_sill.core.formats.bundle_report import bundle_faults

    try:
        with Path(args.file).open("rb") as stream:
            found = bundle_faults(stream)
    except OSError as error:
        raise SystemExit(f"{args.file} cannot be read: {error.strerror}.") from None
    print("\n".join(found) or "Nothing is wrong with this bundle: it can be taken in.")
    raise SystemExit(1 if found else 0)


def shots(args: argparse.Namespace) -> None:
    if args.bodies:
        from yellow_sill.demo.contact_sheet import take as take_bodies

        take_bodies(Path(args.bodies))
        return
    from yellow_sill.demo.shots import take

    take(Path(args.folder))


def bench(args: argparse.Namespace) -> None:
    if args.what == "adjust-rounds":
        from yellow_sill.demo.rounds import main as rounds

        raise SystemExit(rounds(args.rounds))
    if args.what == "soak":
        from yellow_sill.demo.soak import main as soak

        raise SystemExit(soak(args.rounds / 60))
    if args.what == "weld-orders":
        from yellow_sill.demo.bench_weld import pulls

        raise SystemExit(pulls())
    from yellow_sill.demo.bench import main

    sys.exit(main())


def main() -> None:
    parser = argparse.ArgumentParser(prog="yellow-sill")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, work in (("run", run), ("demo", demo)):
        sub = commands.add_parser(name)
        sub.add_argument("--host", default="127.0.0.1")
        sub.add_argument("--port", type=int, default=8417 if name == "run" else 8418)
        if name == "run":
            sub.add_argument("--plain", action="store_true")
        sub.set_defaults(work=work)
    for name, work, option in (("backup", backup, {"nargs": "?"}), ("restore", restore, {})):
        sub = commands.add_parser(name)
        sub.add_argument("file", **option)
        if name == "backup":
            sub.add_argument("--check", action="store_true")
        sub.set_defaults(work=work)
    commands.add_parser("terms").set_defaults(work=terms)
    sub = commands.add_parser("bundle")
    sub.add_argument("what", choices=["check"])
    sub.add_argument("file")
    sub.set_defaults(work=bundle)
    sub = commands.add_parser("verify")
    sub.add_argument("file")
    sub.set_defaults(work=verify)
    sub = commands.add_parser("shots")
    sub.add_argument("folder", nargs="?", default="docs/screenshots")
    sub.add_argument("--bodies", help="a folder for contact sheets of every body type instead")
    sub.set_defaults(work=shots)
    benched = commands.add_parser("bench")
    benched.add_argument("what", nargs="?", choices=["adjust-rounds", "soak", "weld-orders"])
    benched.add_argument(
        "rounds", nargs="?", type=int, default=100, help="how many rounds, or seconds of soaking"
    )
    benched.set_defaults(work=bench)
    args = parser.parse_args()
    args.work(args)


if __name__ == "__main__":
    main()
