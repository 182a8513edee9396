"""Who may call the API."""

from ninja.security import django_auth

# Session cookie plus Django's CSRF token, as for any page of the same origin.
signed_in = django_auth
