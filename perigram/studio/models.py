"""What a shop keeps: designs, every revision of them, the pictures and fonts they use, its habits."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models


class StoredDesign(models.Model):
    """A design as it stands now. A removed one stays until it is brought back or cleared out."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="designs")
    name = models.CharField(max_length=120)
    revision = models.PositiveIntegerField(default=1)
    body = models.JSONField()
    #: The finished picture for the shelf: ground colour, box, and each ply's colour and path.
    picture = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)
    removed = models.DateTimeField(null=True, blank=True)

    class Meta:
        indexes = [models.Index(fields=["owner", "removed", "-updated"])]

    def __str__(self) -> str:
        return self.name


class Revision(models.Model):
    """One accepted state of a design, or one set aside because it was based on an older state."""

    design = models.ForeignKey(StoredDesign, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    body = models.JSONField()
    #: what it was called, so that it is found again; a state with a name is never thinned out
    name = models.CharField(max_length=120, default="", blank=True)
    #: the finished look; kept for the states that are shown
    picture = models.JSONField(default=dict)
    set_aside = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["design", "set_aside", "-number"])]

    def __str__(self) -> str:
        return f"{self.design_id} at {self.number}"


class PictureFile(models.Model):
    """An uploaded drawing, known by the digest of its content within its owner's shop."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="pictures")
    digest = models.CharField(max_length=64)
    name = models.CharField(max_length=120)
    svg = models.TextField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "digest"], name="one_copy_per_shop")]

    def __str__(self) -> str:
        return self.name


class FontUpload(models.Model):
    """A font somebody brought in, known by its content within its owner's shop."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="fonts")
    font_id = models.CharField(max_length=40)
    name = models.CharField(max_length=120)
    data = models.BinaryField()
    #: what it says about itself: see `lettering_schemas.FontOut`
    about = models.JSONField()
    #: every character it has, so that fonts with a missing one are found without opening any
    covers = models.TextField(default="")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "font_id"], name="one_font_per_shop")]
        ordering = ["name", "id"]

    def __str__(self) -> str:
        return self.name


class CutJob(models.Model):
    """One sheet that was sent to the cutter, with the outlines it is compared with afterwards."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="jobs")
    design = models.ForeignKey(StoredDesign, on_delete=models.CASCADE, related_name="jobs")
    name = models.CharField(max_length=200)
    width = models.FloatField()
    length = models.FloatField()
    #: strokes in mm from the sheet's top left corner, within a hundredth of a mm of its curves
    outlines = models.JSONField()
    #: whether a knife is pulled straight before the first of them
    pulled = models.BooleanField(default=False)
    #: what the cutter says it cut, once it is done
    cut = models.JSONField(null=True)
    #: how it came out, once it was cut: see `schemas.CutOut`
    found = models.JSONField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created"]

    def __str__(self) -> str:
        return self.name


class Nest(models.Model):
    """How the plies of a design lie nested on their sheets, as found so far; see `nesting`."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="nests")
    #: digest of all the layout depends on
    key = models.CharField(max_length=64)
    #: by ply id its sheets, each a list of item, x, y and quarters
    layouts = models.JSONField(default=dict)
    #: mm of roll taken packed by boxes, and now
    before = models.FloatField(default=0.0)
    after = models.FloatField(default=0.0)
    share = models.FloatField(default=0.0)
    working = models.BooleanField(default=True)
    stopped = models.BooleanField(default=False)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-updated"]
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_nest_a_layout")]

    def __str__(self) -> str:
        return f"{self.owner_id} {self.key[:8]}"


class Invitation(models.Model):
    """Leave to make one account."""

    code = models.CharField(max_length=40, unique=True)
    made = models.DateTimeField(auto_now_add=True)
    taken = models.DateTimeField(null=True, blank=True)

    def __str__(self) -> str:
        return f"invitation of {self.made:%Y-%m-%d}"


class Habits(models.Model):
    """What a shop is used to: the unit it works in, the fonts it took last, its machines and materials."""

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="habits")
    unit = models.CharField(max_length=2, default="mm")
    #: font ids, newest first
    fonts = models.JSONField(default=list)
    #: its cutting machines, and the id of the one that is used
    machines = models.JSONField(default=list)
    machine = models.CharField(max_length=24, default="", blank=True)
    #: materials on its shelf, as designs have them
    materials = models.JSONField(default=list)

    def __str__(self) -> str:
        return f"habits of {self.owner_id}"
