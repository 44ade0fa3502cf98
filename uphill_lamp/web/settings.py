"""Settings. Everything the app keeps lies under one folder, ``UPHILL_STATE``, unless told otherwise."""

from __future__ import annotations

import os
import secrets
from pathlib import Path
from typing import Any

from csp.constants import NONE, SELF

ROOT = Path(__file__).resolve().parent
STATE = Path(os.environ.get("UPHILL_STATE", ROOT.parent.parent / ".uphill"))


def kept_secret(name: str) -> str:
    """A secret of this installation's own, made once, its owner's alone."""
    path = STATE / name
    secret = path.read_text() if path.exists() else ""
    if secret:
        return secret
    STATE.mkdir(parents=True, exist_ok=True)
    part = STATE / f"{name}.{os.getpid()}"
    with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as file:  # nobody else's from the first byte on
        file.write(secrets.token_urlsafe(48))
    part.replace(path)
    return path.read_text()


SECRET_KEY = kept_secret("secret")
DEBUG = False
# Only this machine's own names, unless somebody says which others: a stranger's page must not reach the app by another name.
ALLOWED_HOSTS = ["localhost", "127.0.0.1", "[::1]", *filter(None, os.environ.get("UPHILL_HOSTS", "").split(","))]

INSTALLED_APPS = [
    "django.contrib.staticfiles",
    "csp",
    "uphill_lamp.web.setups",
    "uphill_lamp.web.catalogue",
    "uphill_lamp.web.check",
    "uphill_lamp.web.go",
    "uphill_lamp.web.quickstart",
    "uphill_lamp.web.bench",
    "uphill_lamp.web.places",
    "uphill_lamp.web.prompter",
    "uphill_lamp.web.hands",
    "uphill_lamp.web.lamp",
    "uphill_lamp.web.files",
    "uphill_lamp.web.help",
    "uphill_lamp.web.day",
    "uphill_lamp.web.microphones",
    "uphill_lamp.web.steps",
    "uphill_lamp.web.wiring",
    "uphill_lamp.web.prints",
    "uphill_lamp.web.past",
]
MIDDLEWARE = [
    "uphill_lamp.web.guard.Guard",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "uphill_lamp.web.catalogue.middleware.InForce",
]
ROOT_URLCONF = "uphill_lamp.web.urls"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [ROOT / "templates"],
        "OPTIONS": {
            "context_processors": ["django.template.context_processors.request"],
            "builtins": ["uphill_lamp.web.setups.templatetags.house"],
        },
    }
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": STATE / "uphill.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
            # FULL: what has been answered is on the disk, whatever happens to the process or the power.
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        "TEST": {"NAME": STATE / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
STATIC_URL = "static/"
STATICFILES_DIRS = [ROOT / "static"]
WHITENOISE_USE_FINDERS = True  # served from the package itself: nothing is collected or built
WHITENOISE_AUTOREFRESH = False


def _static_headers(headers: Any, path: str, url: str) -> None:
    """A drawing opened by itself may do nothing, and nobody else's page may take what ships with the app."""
    headers["Cross-Origin-Resource-Policy"] = "same-origin"
    if path.endswith(".svg"):
        headers["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'"


WHITENOISE_ADD_HEADERS_FUNCTION = _static_headers
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"
DATA_UPLOAD_MAX_MEMORY_SIZE = 25_000_000  # what is too long is told by the page it was typed on, which keeps it
FILE_UPLOAD_MAX_MEMORY_SIZE = 2_500_000
FILE_UPLOAD_TEMP_DIR = STATE / "takes"  # emptied at each start
FILE_UPLOAD_TEMP_DIR.mkdir(parents=True, exist_ok=True, mode=0o700)
CSRF_COOKIE_SAMESITE = "Strict"
CSRF_COOKIE_NAME = "uphill_csrf"
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],  # drafts while something is dragged
        "font-src": [SELF],
        "connect-src": [SELF],
        "media-src": [SELF],  # voices through microphones
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}, "nowhere": {"class": "logging.NullHandler"}},
    "loggers": {
        "django": {"handlers": ["console"], "level": "ERROR"},
        # A stranger's host name is refused with 400; it is no fault of the app's and needs no traceback.
        "django.security.DisallowedHost": {"handlers": ["nowhere"], "propagate": False},
        # Nor do too many fields, or bytes of another script: answered with a page of their own.
        "django.security": {"handlers": ["nowhere"], "propagate": False},
        "django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False},
    },
}
