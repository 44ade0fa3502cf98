"""The log: how each call or recording went, in ten seconds."""

from __future__ import annotations

from django.db import models

from uphill_lamp.core.session import learning
from uphill_lamp.web.setups.models import Setup

MOST_KEPT = 2000


class Use(models.Model):
    """One call or recording as it went."""

    setup = models.ForeignKey(Setup, on_delete=models.CASCADE, related_name="uses")
    day = models.DateField()
    well = models.BooleanField()
    wrong = models.JSONField(default=list)
    retakes = models.PositiveSmallIntegerField(default=0)
    ready_min = models.FloatField(null=True)
    seconds = models.JSONField(default=dict)
    unused = models.JSONField(default=list)
    words = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ("-day", "-id")

    def told(self) -> learning.Use:
        """As what it teaches is worked out from."""
        return learning.Use(
            self.day, self.well, tuple(self.wrong), self.retakes, self.ready_min, self.seconds, tuple(self.unused), self.words
        )

    def __str__(self) -> str:
        return f"use {self.pk} of {self.setup_id}"
