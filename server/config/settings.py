"""Settings. What differs between places comes from the environment; nothing outside this machine is reached."""

import os
import secrets
from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF, UNSAFE_INLINE

ROOT = Path(__file__).resolve().parents[2]
VAR = Path(os.environ.get("OUTRIGGER_VAR", ROOT / "var"))
# What is written here is this account's alone to read.
os.umask(0o077)
VAR.mkdir(parents=True, exist_ok=True)
WEB_DIST = ROOT / "web" / "dist"


def _secret_key() -> str:
    """A key of this installation's own, made on first use."""
    file = VAR / "secret-key"
    if not file.exists():
        file.touch(mode=0o600)
        file.write_text(secrets.token_urlsafe(50))
    return file.read_text()


SECRET_KEY = os.environ.get("OUTRIGGER_SECRET_KEY") or _secret_key()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("OUTRIGGER_HOSTS", "localhost,127.0.0.1,[::1]").split(",")
CSRF_TRUSTED_ORIGINS = [origin for origin in os.environ.get("OUTRIGGER_ORIGINS", "").split(",") if origin]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "csp",
    "ninja",
    "core",
    "accounts",
    "plans",
    "practice",
    "operations",
    "backups",
    "handover",
    "readings",
    "survey",
    "sealing",
    "serving",
    "shelf",
    "stories",
]
MIDDLEWARE = [
    "csp.middleware.CSPMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "answering.private.Private",
    "answering.smaller.Smaller",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "practice.by_its_clock.ByItsClock",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "config.urls"
ASGI_APPLICATION = "serving.asgi.application"
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": VAR / "outrigger.sqlite3",
        # Threads stay, and each keeps its connection.
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "timeout": 10,
            "transaction_mode": "IMMEDIATE",
            # An acknowledged save survives a killed process and a lost supply.
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
    }
}
# The scheduler of a cluster that the best rigs are searched on, for whoever has one; left out, they are searched here.
CLUSTER = os.environ.get("OUTRIGGER_CLUSTER", "")
# Seconds that a simulated cell has already been reading for when it is started.
CELL_KEPT_S = float(os.environ.get("OUTRIGGER_CELL_KEPT_S", "0"))
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
# Scrypt costs an attacker memory, and the machine on the rim a third of a second where PBKDF2 costs more than one.
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.ScryptPasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}", "OPTIONS": options}
    for name, options in {
        "MinimumLengthValidator": {"min_length": 12},
        "CommonPasswordValidator": {},
        "NumericPasswordValidator": {},
        "UserAttributeSimilarityValidator": {"user_attributes": ("username",)},
    }.items()
]
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
# Ten wrong passwords for a name from an address, and neither the right one is let in from there for ten minutes.
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
# The sign-in answers for itself, in the words of the API.
SILENCED_SYSTEM_CHECKS = ["axes.W002"]
# Nothing but what ships with the application: no script inline, nothing framed, nothing from elsewhere.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF], "script-src": [SELF], "style-src": [SELF, UNSAFE_INLINE], "img-src": [SELF, "data:", "blob:"], "font-src": [SELF],
        "connect-src": [SELF], "object-src": [NONE], "base-uri": [SELF], "form-action": [SELF], "frame-ancestors": [NONE],
    }
}  # fmt: skip
USE_TZ = True
TIME_ZONE = "UTC"
APPEND_SLASH = False
# Counted from the last work done: the page stays, and what is not sent yet goes out after the next sign-in.
SESSION_COOKIE_AGE = 12 * 3600
# By the team's own certificate: cookies go nowhere without it.
HTTPS = os.environ.get("OUTRIGGER_HTTPS") == "1"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
if HTTPS:
    SESSION_COOKIE_NAME, CSRF_COOKIE_NAME = "__Host-sessionid", "__Host-csrftoken"
    SECURE_HSTS_SECONDS = 30 * 24 * 3600
# The page is told its token with the session.
CSRF_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024
STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.exists() else None


def immutable(_path: str, url: str) -> bool:
    """Whether a file's name changes with what is in it, as the builder has it."""
    return url.startswith("/assets/")


WHITENOISE_IMMUTABLE_FILE_TEST = immutable
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {"django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False}},
}
