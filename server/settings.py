"""Settings, all of them from the environment; ./start and ./check write theirs to var/."""

import os
from pathlib import Path
from typing import Literal, TypeVar

from csp.constants import NONCE
from django.core.exceptions import ImproperlyConfigured

Word = TypeVar("Word", bound=str)
ROOT = Path(__file__).resolve().parent.parent


def _flag(name: str, default: bool) -> bool:
    return os.environ.get(name, "1" if default else "0").lower() in {"1", "yes", "true", "on"}


SECRET_KEY = os.environ.get("HERON_SECRET_KEY", "")
SECRET_KEY_FALLBACKS = list(filter(None, os.environ.get("HERON_SECRET_KEYS_BEFORE", "").split(",")))
DEBUG = False


def _one_of(name: str, *words: Word) -> Word:
    """A setting that is one of some words, the first unless it is said."""
    said = os.environ.get(name) or words[0]
    for word in words:
        if word == said:
            return word
    raise ImproperlyConfigured(f"{name} is one of {', '.join(words)}; it is {said}.")


# Whether one may look around without an account: in one study for all, or each in a copy that goes after a day.
DEMO: Literal["off", "shared", "each"] = _one_of("HERON_DEMO", "off", "shared", "each")
SECURE = _flag("HERON_SECURE", True)  # off only on loopback, where there is no HTTPS
ALLOWED_HOSTS = os.environ.get("HERON_HOSTS", "127.0.0.1,localhost").split(",")

UPLOAD_LIMIT = int(os.environ.get("HERON_UPLOAD_LIMIT_MB", "200")) * 1_000_000
# A folder on the disk of the database, where that is on this machine, and how much is kept free; see server/room.py.
DATABASE_DISK = os.environ.get("HERON_DATABASE_DISK", "")
RESERVE_BYTES = int(os.environ.get("HERON_RESERVE_MB", "500")) * 1_000_000
INBOX = os.environ.get("HERON_INBOX", "")  # a folder whose files are offered to be read in place
# Tables of more rows are not held at once: they are looked at in parts, by threads of this process or by a cluster.
LARGE_ROWS = int(os.environ.get("HERON_LARGE_ROWS", "2000000"))
CLUSTER = os.environ.get("HERON_CLUSTER", "")  # tcp://host:port of a scheduler
PART_THREADS = int(os.environ.get("HERON_PART_THREADS", "2"))
COLUMN_CACHE_BYTES = int(os.environ.get("HERON_COLUMN_CACHE_MB", "256")) * 2**20
# What is read of long tables part by part, in each process that looks at parts.
PART_CACHE_BYTES = int(os.environ.get("HERON_PART_CACHE_MB", "640")) * 2**20
# A course that signs up from one address within the hour needs more.
SIGN_UPS_PER_HOUR = int(os.environ.get("HERON_SIGN_UPS_PER_HOUR", "10"))
SECURITY_CONTACT = os.environ.get("HERON_SECURITY_CONTACT", "")  # mailto: or https:, for security.txt
LOG_REQUESTS = _flag("HERON_LOG_REQUESTS", False)  # one line of JSON each, on standard output
# Who may make an account: anybody; who is invited; or who is invited or known to the institution.
SIGN_UP: Literal["open", "invited", "institution"] = _one_of(
    "HERON_SIGN_UP", "open", "invited", "institution"
)  # the last: invited, or known to the institution
# How much each person may keep and have done at once, unless who runs the server says otherwise of one; 0: any.
QUOTA_MB = int(os.environ.get("HERON_QUOTA_MB", "0"))
QUOTA_TABLES = int(os.environ.get("HERON_QUOTA_TABLES", "0"))
QUOTA_JOBS = int(os.environ.get("HERON_QUOTA_JOBS", "0"))
READING_CACHE_BYTES = int(os.environ.get("HERON_READING_CACHE_MB", "16")) * 2**20
WEB_THREADS = int(os.environ.get("HERON_WEB_THREADS", "4"))  # of each web worker
PREVIEW_SECONDS = 2.0  # a file that takes longer to be looked at is looked at by the job worker
STORE_AT_ONCE_BYTES = 4_000_000  # larger files are stored by the job worker

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "ninja",
    "axes",
    "csp",
    "allauth",
    "allauth.account",
    "allauth.mfa",
    "allauth.socialaccount",
    "allauth.socialaccount.providers.openid_connect",
    "procrastinate.contrib.django",
    "server.accounts",
    "server.studies",
    "server.ledger",
    "server.readings",
    "server.plates",
    "server.reports",
    "server.records",
    "server.demo",
    "server.operating",
]
METRICS_FROM = list(filter(None, os.environ.get("HERON_METRICS_FROM", "").split(",")))  # addresses that may read them
MIDDLEWARE = [
    "server.health.RequestLog",
    "server.headers.Headers",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "server.limits.UploadLimit",
    "server.limits.LongQuestion",
    "server.headers.Numbers",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "allauth.account.middleware.AccountMiddleware",
    "server.accounts.sessions.IdleLimit",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
if METRICS_FROM:
    INSTALLED_APPS.append("django_prometheus")
    MIDDLEWARE.insert(0, "django_prometheus.middleware.PrometheusBeforeMiddleware")
    MIDDLEWARE.append("django_prometheus.middleware.PrometheusAfterMiddleware")
PROMETHEUS_EXPORT_MIGRATIONS = False
ROOT_URLCONF = "server.urls"
WSGI_APPLICATION = "server.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": [ROOT / "web" / "dist"]}]

# How the connection to the database is kept from others, as PostgreSQL calls it, and by whose certificate.
DATABASE_TLS: dict[str, str] = {
    "sslmode": _one_of("HERON_DB_TLS", "prefer", "require", "verify-ca", "verify-full", "disable")
}
if os.environ.get("HERON_DB_CA"):
    DATABASE_TLS["sslrootcert"] = os.environ["HERON_DB_CA"]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": os.environ.get("HERON_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("HERON_DB_PORT", "5432"),
        "NAME": os.environ.get("HERON_DB_NAME", "heron"),
        "USER": os.environ.get("HERON_DB_USER", "heron"),
        "PASSWORD": os.environ.get("HERON_DB_PASSWORD", ""),
        "CONN_MAX_AGE": 600,
        "CONN_HEALTH_CHECKS": True,
        # Parameters bound by the server travel in binary: chunks and files are not turned into text on the way.
        "OPTIONS": {"server_side_binding": True, **DATABASE_TLS},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "server.accounts.passwords.DifferentCharactersValidator"},
]
AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_CALLABLE = "server.problems.locked_out"

# Signing in through an institution, by OpenID Connect: what people call it, its address, and what it knows us by.
INSTITUTION = os.environ.get("HERON_INSTITUTION", "")
SOCIALACCOUNT_ADAPTER = "server.joining.institution.Adapter"
SOCIALACCOUNT_REQUESTS_TIMEOUT = 10
SOCIALACCOUNT_PROVIDERS = {
    "openid_connect": {
        "OAUTH_PKCE_ENABLED": True,
        "APPS": [
            {
                "provider_id": "institution", "name": INSTITUTION, "client_id": os.environ.get("HERON_OIDC_CLIENT", ""),
                "secret": os.environ.get("HERON_OIDC_SECRET", ""),
                "settings": {"server_url": os.environ.get("HERON_OIDC_ADDRESS", "")},
            }
        ] if INSTITUTION else [],
    }
}  # fmt: skip
# A second factor: codes of an app by the time (RFC 6238), the one before and after for clocks that differ.
MFA_ADAPTER = "server.accounts.second.Adapter"
MFA_SUPPORTED_TYPES = ["totp", "recovery_codes"]
MFA_TOTP_TOLERANCE = 1
OPERATORS_TWICE = _flag("HERON_OPERATORS_TWICE", SECURE)  # who runs the server takes a second factor, or no password
# Which codes were used is known to every web worker.
CACHES = {"default": {"BACKEND": "django.core.cache.backends.db.DatabaseCache", "LOCATION": "short_lived"}}

PASSWORD_RESET_TIMEOUT = 3_600
# Mail: kept to be handed over, unless a service is named.
MAIL_HOST = os.environ.get("HERON_MAIL_HOST", "")
EMAIL_BACKEND = "django.core.mail.backends.smtp.EmailBackend" if MAIL_HOST else "server.accounts.outbox.Outbox"
EMAIL_HOST, EMAIL_PORT = MAIL_HOST, int(os.environ.get("HERON_MAIL_PORT", "587"))
EMAIL_HOST_USER, EMAIL_HOST_PASSWORD = os.environ.get("HERON_MAIL_USER", ""), os.environ.get("HERON_MAIL_PASSWORD", "")
EMAIL_USE_TLS = _flag("HERON_MAIL_TLS", True)
EMAIL_TIMEOUT = 10
DEFAULT_FROM_EMAIL = os.environ.get("HERON_MAIL_FROM", "velvet-heron@localhost")

if SECURE:  # a browser takes such a cookie from this host alone, for all of it, and over TLS
    SESSION_COOKIE_NAME, CSRF_COOKIE_NAME = "__Host-sessionid", "__Host-csrftoken"
SESSION_COOKIE_AGE = 14 * 86_400
IDLE_SECONDS = float(os.environ.get("HERON_IDLE_HOURS", "24")) * 3_600
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = SECURE
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SECURE = SECURE
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_HSTS_SECONDS = 31_536_000 if SECURE else 0
# The address of the one proxy that is believed about who asks, and by which scheme; see server/serving.py.
TRUSTED_PROXY = os.environ.get("HERON_PROXY", "")
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'none'"],
        "script-src": ["'self'"],
        "style-src": ["'self'", NONCE],
        "font-src": ["'self'", "data:"],
        "img-src": ["'self'", "blob:", "data:"],
        "connect-src": ["'self'"],
        "base-uri": ["'none'"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
    }
}

DATA_UPLOAD_MAX_MEMORY_SIZE = 12_000_000  # pasted text; files stream to disk
FILE_UPLOAD_HANDLERS = ["django.core.files.uploadhandler.TemporaryFileUploadHandler"]

STATIC_URL = "/static/"
STATIC_ROOT = os.environ.get("HERON_STATIC_ROOT", str(ROOT / "var" / "static"))
STATICFILES_DIRS = [ROOT / "web" / "dist"] if (ROOT / "web" / "dist").exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_ALLOW_ALL_ORIGINS = False
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/.+-[\w-]{8}\.\w+$"

LANGUAGE_CODE = "en-gb"
USE_I18N = False
USE_TZ = True
TIME_ZONE = "UTC"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {
        "stderr": {"class": "logging.StreamHandler"},
        "bare": {"class": "logging.StreamHandler", "stream": "ext://sys.stdout"},
    },
    "root": {"handlers": ["stderr"], "level": "WARNING"},
    # What a person did wrong was said to that person; the log is for what the server did wrong.
    "loggers": {
        "heron.requests": {"level": "INFO" if LOG_REQUESTS else "WARNING", "handlers": ["bare"], "propagate": False},
        "django.request": {"level": "ERROR"},
        "axes": {"level": "ERROR"},
        "waitress.queue": {"level": "ERROR"},  # that requests wait is told by how long they take
        "django.security.csrf": {"level": "ERROR"},
    },
}
