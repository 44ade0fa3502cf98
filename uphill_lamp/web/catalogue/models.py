"""Rows of the catalogue and of the rates between currencies."""

from __future__ import annotations

from django.db import models


class Entry(models.Model):
    """A kind of thing, its cells as they are written; ``own`` if somebody added it, ``hidden`` if a shipped one is not wanted."""

    entry = models.CharField(max_length=40, unique=True)
    name = models.CharField(max_length=80)
    role = models.CharField(max_length=20)
    price = models.FloatField()
    currency = models.CharField(max_length=3)
    priced_on = models.DateField()
    mass_kg = models.FloatField(default=0)
    power_w = models.FloatField(default=0)
    ports = models.TextField(blank=True)
    needs = models.TextField(blank=True)
    attributes = models.TextField(blank=True)
    cautions = models.TextField(blank=True)
    minutes_once = models.FloatField(default=10)
    minutes_each_time = models.FloatField(default=0)
    own = models.BooleanField(default=False)
    hidden = models.BooleanField(default=False)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("id",)
        verbose_name_plural = "entries"

    def __str__(self) -> str:
        return self.entry


class Rate(models.Model):
    """Units of a currency for one of the catalogue's base currency, where it differs from the typical rate."""

    currency = models.CharField(max_length=3, unique=True)
    per_base = models.FloatField()
    changed_at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"{self.per_base:g} {self.currency}"
