"""What nearly every page begins with: a setup that can be shown; and what is said where a page is older than the setup."""

from __future__ import annotations

from django.shortcuts import get_object_or_404

from uphill_lamp.web.setups.models import Setup

STALE = "The setup has changed since this page was shown. This is how it stands now; nothing was done."


def setup_of(setup_id: int) -> Setup:
    """A setup with its newest revision and its home.

    Raises:
        Http404: if there is none, or it has nothing to show.
    """
    return get_object_or_404(Setup.objects.select_related("head", "home"), pk=setup_id, head__isnull=False)
