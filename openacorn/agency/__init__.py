"""The agency itself: set-up, settings and their trials, the health of the installation."""
