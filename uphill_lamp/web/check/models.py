"""Takes: what was measured in a picture or a sound of a setup, and a small copy of the picture; the file itself is not kept."""

from __future__ import annotations

from django.db import models

from uphill_lamp.web.setups.models import Revision, Setup


class Take(models.Model):
    """One take: its figures as they were told, at which revision, how many of them were off then, and whether it was a good one."""

    setup = models.ForeignKey(Setup, on_delete=models.CASCADE, related_name="takes")
    revision = models.ForeignKey(Revision, null=True, on_delete=models.SET_NULL, related_name="+")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=8)
    report = models.JSONField()
    preview = models.BinaryField(default=b"")
    off = models.PositiveSmallIntegerField(default=0)
    good = models.BooleanField(default=False)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-id",)

    @property
    def when(self) -> str:
        """When it was made, by this machine's clock."""
        local = self.made_at.astimezone()
        return f"{local.day} {local:%B, %H:%M}"

    @property
    def told_kind(self) -> str:
        """What it is, in a word."""
        return "picture" if self.kind == "still" else self.kind

    def __str__(self) -> str:
        return f"take {self.pk} of {self.setup_id}"
