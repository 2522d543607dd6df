"""Settings, all of them changeable from the environment where a host differs.

DATABASE_URL         the PostgreSQL server; bin/start makes a private one without it
DATABASE_POOLED      "1" where a pool such as PgBouncer stands before it, for the web processes
SECRET_KEY           any long random text; bin/start keeps one under .run/
INNERHOP_DEMO        "1": demo site, one-click sign-in, plain http on loopback
FETCH_CONTACT        what sites that are fetched are told of who runs this: an address, or a mail's
PRACTICE_PORT        with the demo, the port of the practice host: the demo site as if live
WEB_PROCESSES        how many answer; two a processor, eight at most
EDITOR_ADDRESS       where editors open this, for the links in mails and feeds
TRUSTED_PROXIES      how many proxies of your own stand in front, each of which says in
                     X-Forwarded-For whom it asks for; 0 where there is none
MAIL_HOST            the server that mails go to, with MAIL_PORT, MAIL_USER, MAIL_PASSWORD and
                     MAIL_FROM; with the demo they go to a folder, and are shown
LOG_FORMAT           "json" for an object each, else lines
METRICS_KEY          what Prometheus says to be told the figures at /-/metrics/; else nobody is
EDITOR_HOSTS         host names of the editor's screens, with commas between
VISITOR_HOSTS        host names that pages are shown under; "*" stands for a site's own name
"""

import os
from pathlib import Path

import dj_database_url
from csp.constants import NONCE, NONE, SELF

from innerhop.project import logs

BASE_DIR = Path(__file__).resolve().parents[2]

DEMO = os.environ.get("INNERHOP_DEMO") == "1"
DEMO_EDITOR = "demo"
# Only the demo's own practice host is fetched from loopback.
PRACTICE_HOST = f"marrowby.localhost:{os.environ.get('PRACTICE_PORT', '8601')}" if DEMO else ""
FETCH_LETS_THROUGH = {PRACTICE_HOST: "127.0.0.1"} if DEMO else {}
FETCH_CONTACT = os.environ.get("FETCH_CONTACT", "")
FETCH_PAUSE = float(os.environ.get("FETCH_PAUSE", "0.25"))  # seconds between two requests
JOBS_LOST_AFTER = float(os.environ.get("JOBS_LOST_AFTER", "15"))  # seconds without a sign of life
FETCH_FOLDER = BASE_DIR / ".run" / "fetches"
DEBUG = False
SECRET_KEY = os.environ.get("SECRET_KEY", "")

EDITOR_HOSTS = os.environ.get("EDITOR_HOSTS", "127.0.0.1").split(",")
# A page's own scripts run under these names and so never meet the editor's cookies.
VISITOR_HOSTS = os.environ.get("VISITOR_HOSTS", "localhost,*.localhost").split(",")
ALLOWED_HOSTS = [*EDITOR_HOSTS, *(host.removeprefix("*") for host in VISITOR_HOSTS)]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.postgres",
    "procrastinate.contrib.django",
    "allauth",
    "allauth.account",
    "allauth.mfa",
    "allauth.usersessions",
    "axes",
    "csp",
    "django_prometheus",
    "innerhop.library",
    "innerhop.screens",
    "innerhop.visitor",
    "innerhop.practice",
]

MIDDLEWARE = [
    "innerhop.project.logs.Numbered",
    "django_prometheus.middleware.PrometheusBeforeMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "innerhop.screens.frame.sending.Sending",
    "innerhop.visitor.hosts.HostMiddleware",
    "innerhop.visitor.hosts.EditorStaticFiles",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "allauth.account.middleware.AccountMiddleware",
    "innerhop.screens.accounts.activity.Activity",
    "axes.middleware.AxesMiddleware",
    "django_prometheus.middleware.PrometheusAfterMiddleware",
]

ROOT_URLCONF = "innerhop.project.urls"
VISITOR_URLCONF = "innerhop.visitor.urls"
WSGI_APPLICATION = "innerhop.project.wsgi.application"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        # One folder a screen, each with its own templates.
        "DIRS": sorted((BASE_DIR / "innerhop" / "screens").glob("*/templates")),
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "innerhop.screens.frame.context.frame",
            ],
        },
    }
]

DATABASES = {
    "default": dj_database_url.config(
        default="postgres://innerhop@127.0.0.1:54329/innerhop",
        conn_max_age=600,
        conn_health_checks=True,
    )
}
# A pool of connections hands each on after a transaction.
# https://docs.djangoproject.com/en/5.2/ref/databases/#transaction-pooling-server-side-cursors
DATABASES["default"]["DISABLE_SERVER_SIDE_CURSORS"] = os.environ.get("DATABASE_POOLED") == "1"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "library.Editor"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "innerhop.library.access.Backend",
]
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.Argon2PasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
LOGIN_URL = "sign-in"
LOGIN_REDIRECT_URL = "sites"
LOGOUT_REDIRECT_URL = "sign-in"

# Accounts: whoever was invited makes one; nobody signs up.
ACCOUNT_ADAPTER = "innerhop.screens.accounts.adapters.Accounts"
MFA_ADAPTER = "innerhop.screens.accounts.adapters.SecondSteps"
ACCOUNT_LOGIN_METHODS = {"username"}
ACCOUNT_EMAIL_VERIFICATION = "optional"
ACCOUNT_EMAIL_SUBJECT_PREFIX = ""
ACCOUNT_EMAIL_NOTIFICATIONS = True  # of whatever makes an account another's
ACCOUNT_REAUTHENTICATION_REQUIRED = True
ACCOUNT_LOGOUT_REDIRECT_URL = LOGOUT_REDIRECT_URL
ACCOUNT_MAX_EMAIL_ADDRESSES = 3
ACCOUNT_DEFAULT_HTTP_PROTOCOL = "http" if DEMO else "https"
ACCOUNT_LOGOUT_ON_PASSWORD_CHANGE = False
MFA_SUPPORTED_TYPES = ["totp", "webauthn", "recovery_codes"]
MFA_WEBAUTHN_ALLOW_INSECURE_ORIGIN = DEMO  # which has no TLS
MFA_TOTP_ISSUER = "Inner Hop"
MFA_TOTP_TOLERANCE = 1  # half minutes, for who types slowly (RFC 6238, 5.2)
USERSESSIONS_TRACK_ACTIVITY = True
ALLAUTH_TRUSTED_PROXY_COUNT = int(os.environ.get("TRUSTED_PROXIES", "0"))
if ALLAUTH_TRUSTED_PROXY_COUNT:
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")

AXES_CLIENT_IP_CALLABLE = "innerhop.screens.accounts.adapters.client_address"
AXES_HANDLER = "innerhop.screens.accounts.tries.Tries"
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "innerhop.screens.frame.views.locked_out"
AXES_VERBOSE = False

# RFC 6265bis, 4.1.3.2: a cookie whose name begins so is this host's own, and no other's to set.
_OWN = "" if DEMO else "__Host-"
SESSION_COOKIE_NAME = f"{_OWN}innerhop_session"
CSRF_COOKIE_NAME = f"{_OWN}csrftoken"
SESSION_COOKIE_SECURE = not DEMO
CSRF_COOKIE_SECURE = not DEMO
CSRF_COOKIE_HTTPONLY = True
CSRF_FAILURE_VIEW = "innerhop.screens.frame.views.form_too_old"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_SSL_REDIRECT = not DEMO
SECURE_REDIRECT_EXEMPT = ["^-/(alive|ready|metrics)/$"]  # which is asked on the machine itself
SECURE_HSTS_SECONDS = 0 if DEMO else 365 * 24 * 3600
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
# Framing is forbidden by the Content-Security-Policy; whether browsers ship our name as one of
# TLS alone is for whoever owns it to say.
SILENCED_SYSTEM_CHECKS = ["security.W002", "security.W021"]
SECURE_REFERRER_POLICY = "same-origin"

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF, NONCE],
        "object-src": [NONE],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
        "img-src": [SELF, "data:"],
        "frame-src": [f"{scheme}//{host}:*" for host in VISITOR_HOSTS
                      for scheme in (("http:",) if DEMO else ("https:",))],
    }
}  # fmt: skip

EDITOR_ADDRESS = os.environ.get("EDITOR_ADDRESS", "").rstrip("/")
MAIL_FOLDER = BASE_DIR / ".run" / "mails"
_BACKENDS = "django.core.mail.backends"
EMAIL_BACKEND = f"{_BACKENDS}.filebased.EmailBackend" if DEMO else f"{_BACKENDS}.smtp.EmailBackend"
EMAIL_FILE_PATH = MAIL_FOLDER
EMAIL_HOST = os.environ.get("MAIL_HOST", "localhost")
EMAIL_PORT = int(os.environ.get("MAIL_PORT", "25"))
EMAIL_HOST_USER = os.environ.get("MAIL_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("MAIL_PASSWORD", "")
EMAIL_USE_TLS = EMAIL_PORT == 587  # RFC 6409: where mails are handed in
EMAIL_USE_SSL = EMAIL_PORT == 465  # RFC 8314
EMAIL_TIMEOUT = 20
DEFAULT_FROM_EMAIL = os.environ.get("MAIL_FROM", "inner-hop@localhost")

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "/static/"
# The built files are committed where they are served from: no collecting step.
STATIC_ROOT = BASE_DIR / "static"
WHITENOISE_IMMUTABLE_FILE_TEST = r"\.[0-9a-f]{10}\.(js|css|woff2)$"

# What may come in: innerhop/library/bring_in holds the limits on pages.
DATA_UPLOAD_MAX_MEMORY_SIZE = 8 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024
DATA_UPLOAD_MAX_NUMBER_FILES = 500
DATA_UPLOAD_MAX_NUMBER_FIELDS = 5_000

LOGGING = logs.configuration(os.environ.get("LOG_FORMAT", "lines"), asked=not DEMO)
METRICS_KEY = os.environ.get("METRICS_KEY", "")
