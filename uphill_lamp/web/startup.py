"""Getting ready to start: a folder of one's own, a sound database, a copy before it is changed. What stands in the way is told, not thrown."""

from __future__ import annotations

import os
import sqlite3
import time
from collections.abc import Iterable
from pathlib import Path

APPS = ("setups", "catalogue", "check", "go")
KEPT_COPIES = 3
LOOSE_SHARE = 0.25  # of the database's pages; with more that are empty it is packed anew


class Trouble(Exception):
    """Why the app cannot start: which file, why, and what to do."""


def clear_takes(state: Path) -> None:
    """Files of takes that were cut short go: they are not kept beyond their measuring."""
    for left in (state / "takes").glob("*"):
        left.unlink(missing_ok=True)


def make_private(state: Path) -> None:
    """The state folder, its owner's alone from now on, with what lies in it.

    Raises:
        Trouble: if nothing can be written there.
    """
    os.umask(0o077)
    try:
        _write_in(state)
    except OSError as wrong:
        raise Trouble(
            f"Nothing can be written in {state} ({wrong.strerror}).\n"
            "Give yourself the right to write there, make room on its disk, or keep the app's files elsewhere: UPHILL_STATE=/path ./uphill demo"
        ) from None
    for path in (state, *(state / name for name in ("heard", "pictures")), *state.glob("uphill.sqlite3*"), *state.glob("heard/*")):
        try:
            path.chmod(0o700 if path.is_dir() else 0o600)
        except OSError:
            continue


def _write_in(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    trial = folder / f".trial-{os.getpid()}"
    trial.write_bytes(b"1")
    trial.unlink()


def compiled_kept() -> list[str]:
    """Words about compiled code that cannot be kept on this machine; nothing if it can."""
    folder = os.environ.get("NUMBA_CACHE_DIR")
    try:
        if folder:
            _write_in(Path(folder))
    except OSError as wrong:
        return [
            f"What draws the pictures cannot be kept in {folder} ({wrong.strerror}): it is compiled anew at each start, and the first picture "
            "takes a minute or more. Give yourself the right to write there."
        ]
    return []


def sound_database(database: Path) -> list[str]:
    """Moves a database aside that is empty or broken; what was done, in words.

    Raises:
        Trouble: if it cannot be opened at all.
    """
    if not database.exists():
        return []
    wrong = "it is empty" if database.stat().st_size == 0 else _broken(database)
    if not wrong:
        return []
    aside = database.with_name(f"{database.name}.{time.strftime('%Y%m%d-%H%M%S')}.aside")
    try:
        for ending in ("", "-wal", "-shm"):
            part = database.with_name(database.name + ending)
            if part.exists():
                part.replace(aside.with_name(aside.name + ending))
    except OSError as refused:
        raise Trouble(f"{database} cannot be read ({wrong}) nor moved aside ({refused.strerror}). Move it away by hand.") from None
    copies = sorted(database.parent.glob(f"{database.name}.before-*"))
    notes = [f"The database could not be read: {wrong}. It was moved aside to {aside}; nothing in it was changed, and a new one is begun."]
    if copies:
        notes.append(
            f"A copy from before an update lies at {copies[-1]}. To go back to it, copy it to {database} while the app is not running."
        )
    return notes


def _broken(database: Path) -> str:
    """What is wrong with a database, as SQLite says it; empty if nothing is."""
    try:
        with sqlite3.connect(database) as there:
            (verdict,) = there.execute("PRAGMA quick_check(1)").fetchone()
        there.close()
    except sqlite3.OperationalError as wrong:
        raise Trouble(
            f"{database} cannot be opened ({wrong}). Is it yours to read and write, and is no other program holding it?"
        ) from None
    except sqlite3.DatabaseError as wrong:
        return str(wrong)
    return "" if verdict == "ok" else str(verdict)


def up_to_date(database: Path) -> None:
    """Brings the database's tables up to date, a copy of it kept before.

    Raises:
        Trouble: if it was written by a newer version of the app, or there is no room.
    """
    from django.core.management import call_command
    from django.db import DatabaseError, connection
    from django.db.migrations.executor import MigrationExecutor

    try:
        executor = MigrationExecutor(connection)
        unknown = [
            name for app, name in executor.loader.applied_migrations if app in APPS and (app, name) not in executor.loader.disk_migrations
        ]
        if unknown:
            raise Trouble(
                f"{database} was last used by a newer version of the app ({', '.join(sorted(unknown))}).\n"
                "Use that version, or keep this one's files elsewhere: UPHILL_STATE=/path ./uphill demo"
            )
        plan = executor.migration_plan(executor.loader.graph.leaf_nodes())
        if not plan:
            return
        if executor.loader.applied_migrations:
            connection.close()
            _copied(database, plan[0][0].name)
        call_command("migrate", interactive=False, verbosity=0)
    except (DatabaseError, OSError) as wrong:
        raise Trouble(
            f"{database} cannot be brought up to date ({wrong}). Make room on its disk and start again; nothing was lost."
        ) from None


def _copied(database: Path, before: str) -> None:
    """A copy of the whole database as it is, of which the newest few are kept."""
    copy = database.with_name(f"{database.name}.before-{before}")
    with sqlite3.connect(database) as there, sqlite3.connect(copy) as kept:
        there.backup(kept)
    there.close()
    kept.close()
    for old in _oldest(database.parent.glob(f"{database.name}.before-*")):
        old.unlink(missing_ok=True)


def _oldest(paths: Iterable[Path]) -> list[Path]:
    return sorted(paths, key=lambda path: path.stat().st_mtime)[:-KEPT_COPIES]


def packed() -> None:
    """Gives the room back that deleted setups and histories have left in the database."""
    from django.db import connection

    with connection.cursor() as cursor:
        empty, pages = (cursor.execute(f"PRAGMA {name}").fetchone()[0] for name in ("freelist_count", "page_count"))
        if empty > LOOSE_SHARE * max(pages, 1) and empty > 100:
            cursor.execute("VACUUM")
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    connection.close()
