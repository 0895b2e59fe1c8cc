"""Django settings; everything that differs between machines comes from the environment."""

from __future__ import annotations

import os
import secrets
from datetime import timedelta
from pathlib import Path

BASE_DIR = Path(__file__).resolve().parents[2]
#: Where this installation keeps what it makes: the database, the secret key.
STATE_DIR = Path(os.environ.get("PERIGRAM_STATE") or BASE_DIR / "var")
WEB_DIST = BASE_DIR / "web" / "dist"

#: One click signs in to the demo shop; set only by bin/start.
DEMO = os.environ.get("PERIGRAM_DEMO") == "1"
DEBUG = False


def _secret_key() -> str:
    """The key from the environment, or one made once and kept with this installation's state."""
    if key := os.environ.get("PERIGRAM_SECRET_KEY"):
        return key
    path = STATE_DIR / "secret-key"
    if not path.exists():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(50))
    return path.read_text()


SECRET_KEY = _secret_key()
ALLOWED_HOSTS = os.environ.get("PERIGRAM_HOSTS", "127.0.0.1,localhost").split(",")
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("PERIGRAM_ORIGINS", "").split(",") if o]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "perigram.studio",
]

MIDDLEWARE = [
    "perigram.studio.headers.known_host",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "perigram.studio.headers.content_security_policy",
    "perigram.studio.problems.documents",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]

ROOT_URLCONF = "perigram.config.urls"
WSGI_APPLICATION = "perigram.config.wsgi.application"
TEMPLATES: list[dict[str, object]] = []

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.mysql",
        "NAME": os.environ.get("PERIGRAM_DB_NAME", "perigram"),
        "USER": os.environ.get("PERIGRAM_DB_USER", "perigram"),
        "PASSWORD": os.environ.get("PERIGRAM_DB_PASSWORD", ""),
        "HOST": os.environ.get("PERIGRAM_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("PERIGRAM_DB_PORT", "3316"),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {"charset": "utf8mb4", "init_command": "SET sql_mode='STRICT_TRANS_TABLES'"},
        "TEST": {"CHARSET": "utf8mb4"},
    }
}

#: Who may make an account: anyone ("open"), those with an invitation, or nobody ("closed").
SIGN_UP = os.environ.get("PERIGRAM_SIGN_UP", "invitation")

#: Ten wrong passwords for a name from one address shut both out together for a quarter of an hour.
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_CLIENT_IP_CALLABLE = "perigram.studio.headers.client_address"
AXES_VERBOSE = False
#: Its middleware would answer with a page; the sign-in call answers by itself.
SILENCED_SYSTEM_CHECKS = ["axes.W002"]

DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in ("MinimumLengthValidator", "CommonPasswordValidator", "NumericPasswordValidator")
]

LANGUAGE_CODE = "en"
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "/static/"
#: Vite's build goes out as it is; its file names carry a hash of their content.
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.exists() else None
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[\w-]{8}\.\w+$"

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
#: Whether a proxy that speaks TLS stands in front, on whose word addresses and schemes are taken.
BEHIND_PROXY = os.environ.get("PERIGRAM_HTTPS") == "1"
if BEHIND_PROXY:
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_SSL_REDIRECT = True
    SECURE_HSTS_SECONDS = int(os.environ.get("PERIGRAM_HSTS_SECONDS", "31536000"))

#: Where the cutter listens for HP-GL, and one higher for questions; 0 where there is none.
CUTTER_PORT = int(os.environ.get("PERIGRAM_CUTTER_PORT") or 0)
#: The folder that stands for the memory stick which is carried over to it.
STICK = Path(os.environ.get("PERIGRAM_STICK") or STATE_DIR / "stick")

#: Files that are brought in are read by so many processes of each worker, each bounded in time and in memory
#: beyond what it starts with: seconds of the processor, bytes.
READERS = int(os.environ.get("PERIGRAM_READERS", "1"))
READING_SECONDS = float(os.environ.get("PERIGRAM_READING_SECONDS", "10"))
READING_BYTES = 1_000_000_000
#: Threads of a worker that may wait for files to be read; the others are for the work on the bench.
MOST_READING = 8

#: A drawing of 5 MB and a design with its pictures in it fit; what is larger is refused unread.
DATA_UPLOAD_MAX_MEMORY_SIZE = 24_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 6_000_000
