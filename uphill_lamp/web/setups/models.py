"""Homes, their setups and the setups' revisions. A revision is never changed; undo and redo move the setup's head."""

from __future__ import annotations

from django.db import models


class Home(models.Model):
    """The spots of one home that are weighed against each other, and the one chosen."""

    chosen = models.ForeignKey("Setup", null=True, on_delete=models.SET_NULL, related_name="+")

    def __str__(self) -> str:
        return f"home {self.pk}"


class NotDeleted(models.Manager["Setup"]):
    """Setups that are there; those deleted within a day are not."""

    def get_queryset(self) -> models.QuerySet[Setup]:
        return super().get_queryset().filter(deleted_at=None)


class Setup(models.Model):
    """One setup: the revision it stands at, the home it is a place of, which demo file it came from if any, and when it was deleted."""

    name = models.CharField(max_length=80)
    demo = models.CharField(max_length=60, blank=True)
    head = models.ForeignKey("Revision", null=True, on_delete=models.SET_NULL, related_name="+")
    home = models.ForeignKey(Home, null=True, on_delete=models.SET_NULL, related_name="spots")
    created_at = models.DateTimeField(auto_now_add=True)
    touched_at = models.DateTimeField(auto_now=True)
    deleted_at = models.DateTimeField(null=True, blank=True)

    objects = NotDeleted()
    everything = models.Manager["Setup"]()

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.name


class Revision(models.Model):
    """One saved state: the whole document, the patch that led to it from its parent, and in words what was done."""

    setup = models.ForeignKey(Setup, on_delete=models.CASCADE, related_name="revisions")
    parent = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="children")
    document = models.TextField()
    digest = models.CharField(max_length=64, db_index=True)
    patch = models.JSONField(default=list)
    words = models.CharField(max_length=200, blank=True)
    score = models.FloatField(null=True)
    worst = models.CharField(max_length=300, blank=True)
    alt = models.TextField(blank=True)
    judged_by = models.CharField(max_length=12, blank=True)  # the method that score, worst finding and words of the picture come from
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.setup_id}.{self.pk}"


class Script(models.Model):
    """What is read aloud at a setup, and how it is shown."""

    setup = models.OneToOneField(Setup, on_delete=models.CASCADE, related_name="script")
    text = models.TextField(blank=True)
    markdown = models.BooleanField(default=False)
    mirrored = models.BooleanField(default=False)
    comfortable = models.BooleanField(default=True)
    words_a_minute = models.FloatField(default=130)
    screen = models.CharField(max_length=40, blank=True)

    def __str__(self) -> str:
        return f"script of {self.setup_id}"
