"""Django settings. What differs between machines comes from the environment, which ``./cenote`` fills in."""

import hashlib
import os
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
VAR = Path(os.environ.get("CENOTE_VAR", ROOT / "var"))

DEBUG = False
SECRET_KEY = os.environ["CENOTE_SECRET_KEY"]
ALLOWED_HOSTS = os.environ.get("CENOTE_HOSTS", "127.0.0.1,localhost").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "procrastinate.contrib.django",
    "config",
    "accounts",
    "sites",
    "store",
    "stills",
    "jobs",
    "derived",
    "library",
]
MIDDLEWARE = [
    "api.guard.guard",
    "api.compression.compress",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "api.bodies.check_bodies",
]
ROOT_URLCONF = "config.urls"
ASGI_APPLICATION = "config.asgi.application"
TEMPLATES: list[dict[str, object]] = []

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": os.environ.get("CENOTE_DB_NAME", "cenote"),
        "USER": os.environ.get("CENOTE_DB_USER", "cenote"),
        "PASSWORD": os.environ.get("CENOTE_DB_PASSWORD", ""),
        "HOST": os.environ.get("CENOTE_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("CENOTE_DB_PORT", "5432"),
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TEST_RUNNER = "config.runner.CenoteRunner"

# Derived data and uploads: a folder, or an object store (django-storages) where workers run on other machines. A bucket's
# name says that it is the latter; its address and keys come from the usual variables of that service.
_FOLDER = {
    "BACKEND": "store.whole_files.WholeFiles",
    "OPTIONS": {"location": os.environ.get("CENOTE_STORE", str(VAR / "store"))},
}
_BUCKET = {
    "BACKEND": "storages.backends.s3.S3Storage",
    "OPTIONS": {
        "bucket_name": os.environ.get("CENOTE_BUCKET", ""),
        "endpoint_url": os.environ.get("CENOTE_BUCKET_ADDRESS") or None,
        "file_overwrite": True,
    },
}
STORAGES = {
    "default": _BUCKET if os.environ.get("CENOTE_BUCKET") else _FOLDER,
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
# Work of one user that workers do at the same time, and minutes after which a piece of work is stopped.
JOBS_AT_ONCE = int(os.environ.get("CENOTE_JOBS_AT_ONCE", "2"))
JOB_MINUTES = float(os.environ.get("CENOTE_JOB_MINUTES", "60"))
# Requests that one process answers at the same time; more wait for their turn.
REQUESTS_AT_ONCE = int(os.environ.get("CENOTE_REQUESTS_AT_ONCE", "12"))
# The most that derived data may take in the store, and what each process may hold in memory, bytes.
STORE_BYTES = int(float(os.environ.get("CENOTE_STORE_GB", "20")) * 1e9)
MEMORY_BYTES = int(float(os.environ.get("CENOTE_MEMORY_GB", "1.1")) * 1e9)
# What a process may hold while it works on a site that needs more: a tenth of the machine's memory.
_MACHINE = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
MEMORY_MOST_BYTES = int(
    float(os.environ.get("CENOTE_MEMORY_MOST_GB", max(1.35 * MEMORY_BYTES, _MACHINE / 10) / 1e9)) * 1e9
)
# What each user may hold of their own, and for how many days files wait that jobs have made, and uploads.
USER_BYTES = int(float(os.environ.get("CENOTE_USER_GB", "10")) * 1e9)
KEPT_DAYS = int(os.environ.get("CENOTE_KEPT_DAYS", "7"))
STATIC_URL = "/static/"
WEB_BUILD = ROOT / "web" / "dist"
WHITENOISE_ROOT = str(WEB_BUILD) if WEB_BUILD.is_dir() else None
# Vite puts a content hash into the name of every file under assets.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+$"

# Browsers keep cookies by host, whatever the port: two servers on one machine must not sign each other's users out.
_INSTANCE = hashlib.sha256(SECRET_KEY.encode()).hexdigest()[:8]
SESSION_COOKIE_NAME, CSRF_COOKIE_NAME = f"cenote_session_{_INSTANCE}", f"cenote_token_{_INSTANCE}"
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 30 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
DATA_UPLOAD_MAX_MEMORY_SIZE = 8 * 1024**2
FILE_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024**2
MOST_UPLOAD_BYTES = 200 * 1024**2

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"
USE_I18N = False

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    # What is refused is told to who asked; a line for each would let anybody fill the disk.
    "loggers": {"django.request": {"level": "ERROR"}, "django.security": {"level": "ERROR"}},
    "root": {"handlers": ["console"], "level": os.environ.get("CENOTE_LOG_LEVEL", "WARNING")},
}
