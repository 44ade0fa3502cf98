"""Starting the app on this machine."""

from __future__ import annotations

import hashlib
import os
import sys
import threading
import webbrowser
from pathlib import Path

from uphill_lamp.web import memory, startup

KINDS = Path(__file__).resolve().parents[1] / "core" / "catalogue" / "kinds.csv"
WARM_AFTER_S = 2.0  # what is heavy is imported once the first page has come and gone
MOST_BODY_BYTES = 2_100_000_000  # what is too large gets a page that says so; beyond this nothing is read, and the connection ends


def manage(arguments: list[str]) -> int:
    """Django's own commands."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "uphill_lamp.web.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(["uphill manage", *arguments])
    return 0


def prepare() -> list[str]:
    """Sets Django up, brings the database up to date and loads the demo setups into an empty one; what the reader ought to know.

    Raises:
        Trouble: if the app cannot start, with what to do.
    """
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "uphill_lamp.web.settings")
    state = Path(os.environ.get("UPHILL_STATE", Path(__file__).resolve().parents[2] / ".uphill"))
    database = state / "uphill.sqlite3"
    startup.make_private(state)
    startup.clear_takes(state)
    notes = startup.sound_database(database) + startup.compiled_kept()
    import django

    django.setup()
    startup.up_to_date(database)
    from uphill_lamp.web.setups.models import Setup

    if not Setup.everything.exists():
        from uphill_lamp.web.setups import flows  # once: a start with setups needs nothing of the computation

        flows.load_demo()
    _load_catalogue()
    startup.packed()
    return notes


def _load_catalogue() -> None:
    """Loads kinds that have come since the last start; told by the table that ships, which then need not be read."""
    from uphill_lamp.web import settings
    from uphill_lamp.web.catalogue.models import Entry

    shipped, stamp = hashlib.sha256(KINDS.read_bytes()).hexdigest(), settings.STATE / "catalogue-loaded"
    if Entry.objects.exists() and stamp.is_file() and stamp.read_text() == shipped:
        return
    from uphill_lamp.web.catalogue import flows  # as above

    flows.load()
    stamp.write_text(shipped)


def demo(port: int, browser: bool = True, private: bool = False) -> int:
    """Serves the app with its demo setups on 127.0.0.1 until it is interrupted.

    Args:
        private: whether only who has the printed address gets in, for machines that others use too.
    """
    memory.bound()
    try:
        notes = prepare()
        key = _key() if private else ""
    except startup.Trouble as trouble:
        print(trouble, file=sys.stderr)
        return 2
    for line in notes:
        print(line)
    if "*" in os.environ.get("UPHILL_HOSTS", ""):
        print("UPHILL_HOSTS=* lets any page of any name ask this app; name the hosts that may instead.")
    if key:
        os.environ["UPHILL_TOKEN"] = key
    from waitress.server import create_server

    from uphill_lamp.web.wsgi import application

    try:
        server = create_server(
            application, host="127.0.0.1", port=port, threads=8, ident="uphill-lamp", max_request_body_size=MOST_BODY_BYTES
        )
    except OSError as broken:
        print(f"Port {port} is not free ({broken.strerror}). Try: ./uphill demo --port {port + 1}")
        return 2
    address = f"http://127.0.0.1:{port}/" + (f"?key={key}" if key else "")
    print(f"Uphill Lamp is at {address} (Ctrl+C ends it)", flush=True)
    later = threading.Timer(WARM_AFTER_S, _warm)
    later.daemon = True
    later.start()
    memory.rest_when_idle()
    if browser and (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.name == "nt"):
        webbrowser.open(address)
    try:
        server.run()
    except KeyboardInterrupt:
        server.close()
    startup.packed()
    return 0


def _key() -> str:
    """This installation's key for private use, made once."""
    from uphill_lamp.web import settings

    return settings.kept_secret("key")


def _warm() -> None:
    """Imports what is heavy after the address is printed, so that neither the start nor the first page waits for it."""
    from uphill_lamp.web import heavy

    heavy.load()
    from uphill_lamp.web.bench.pictures import DRAFTSMAN

    DRAFTSMAN.start()
