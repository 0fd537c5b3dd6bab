import uuid

from django.db import models


class Rig(models.Model):
    """The machine being tuned.

    simulator, simulator_seed: kind and seed where the rig is one of the simulator's; empty for a real one
    simulator_fault: what time has done to it there, hidden; empty while it is as it came
    """

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    name = models.CharField(max_length=120)
    created_at = models.DateTimeField()
    simulator = models.CharField(max_length=20, blank=True, default="")
    simulator_seed = models.PositiveIntegerField(default=0)
    simulator_fault = models.JSONField(default=dict)

    def __str__(self) -> str:
        return self.name

    def present_build(self) -> "Build | None":
        return max(self.builds.all(), key=lambda build: build.number, default=None)


class Build(models.Model):
    """How a rig is put together at one time. Never changed, only followed by the next."""

    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    rig = models.ForeignKey(Rig, on_delete=models.PROTECT, related_name="builds")
    number = models.PositiveIntegerField()
    since = models.DateTimeField()
    cooling = models.CharField(max_length=200, blank=True)
    enclosure = models.CharField(max_length=200, blank=True)
    driver = models.CharField(max_length=120, blank=True)
    firmware = models.CharField(max_length=120, blank=True)
    system = models.CharField(max_length=120, blank=True)
    note = models.TextField(blank=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["rig", "number"], name="one_build_a_number")]

    def __str__(self) -> str:
        return f"{self.rig} build {self.number}"

    @property
    def placed(self) -> "list[Part]":
        """Its parts, in order."""
        return list(self.parts.all())


class Part(models.Model):
    """A part of a build: its role, what it is, and which specimen."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="parts")
    position = models.PositiveIntegerField()
    role = models.CharField(max_length=60)
    name = models.CharField(max_length=160)
    specimen = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["position"]

    def __str__(self) -> str:
        specimen = f" ({self.specimen})" if self.specimen else ""
        return f"{self.role}: {self.name}{specimen}"
