"""Addresses: the API, and the interface for everything else."""

from allauth.socialaccount.providers.openid_connect.views import callback
from django.urls import path, re_path

from server.api import api
from server.health import health, metrics, ready
from server.shell import robots, security, shell

urlpatterns = [
    path("api/", api.urls),
    path("robots.txt", robots),
    path("<slug:provider_id>/login/callback/", callback, name="openid_connect_callback"),
    path("health", health),
    path("ready", ready),
    path("metrics", metrics),
    path(".well-known/security.txt", security),
    re_path(r"^(?!api/|static/).*$", shell),
]
handler400 = "server.problems.unreadable"
handler500 = "server.problems.broken"
