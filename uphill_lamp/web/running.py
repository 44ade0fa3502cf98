"""Starting the app on this machine."""

from __future__ import annotations

import hashlib
import os
import threading
import webbrowser
from pathlib import Path

KINDS = Path(__file__).resolve().parents[1] / "core" / "catalogue" / "kinds.csv"
WARM_AFTER_S = 2.0  # what is heavy is imported once the first page has come and gone
MOST_BODY_BYTES = 25_000_000  # a file too large for a setup still gets its clear answer; beyond this nothing is read


def manage(arguments: list[str]) -> int:
    """Django's own commands."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "uphill_lamp.web.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(["uphill manage", *arguments])
    return 0


def prepare() -> None:
    """Sets Django up, brings the database up to date and loads the demo setups into an empty one."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "uphill_lamp.web.settings")
    import django

    django.setup()
    from django.core.management import call_command

    call_command("migrate", interactive=False, verbosity=0)
    from uphill_lamp.web.setups.models import Setup

    if not Setup.everything.exists():
        from uphill_lamp.web.setups import flows  # once: a start with setups needs nothing of the computation

        flows.load_demo()
    _load_catalogue()


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


def demo(port: int, browser: bool = True) -> int:
    """Serves the app with its demo setups on 127.0.0.1 until it is interrupted."""
    prepare()
    from waitress.server import create_server

    from uphill_lamp.web.wsgi import application

    try:
        server = create_server(
            application, host="127.0.0.1", port=port, threads=8, ident="uphill-lamp", max_request_body_size=MOST_BODY_BYTES
        )
    except OSError as broken:
        print(f"Port {port} is not free ({broken.strerror}). Try: ./uphill demo --port {port + 1}")
        return 2
    address = f"http://127.0.0.1:{port}/"
    print(f"Uphill Lamp is at {address} (Ctrl+C ends it)", flush=True)
    later = threading.Timer(WARM_AFTER_S, _warm)
    later.daemon = True
    later.start()
    if browser and (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.name == "nt"):
        webbrowser.open(address)
    try:
        server.run()
    except KeyboardInterrupt:
        server.close()
    return 0


def _warm() -> None:
    """Imports what is heavy after the address is printed, so that neither the start nor the first page waits for it."""
    from uphill_lamp.web import heavy

    heavy.load()
    from uphill_lamp.web.bench.pictures import DRAFTSMAN

    DRAFTSMAN.start()
