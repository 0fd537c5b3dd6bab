"""Figures by instrument, knob roles, workloads that are the same on every rig. Every number stays what it was."""

import re
import uuid

import django.db.models.deletion
import django.db.models.manager
from django.db import migrations, models

# As they stood when this was written; what they are today may change, what is migrated must not.
PARTS = ["tuned part", "graphics", "processor", "memory", "board", "supply", "whole machine", "room"]
STATISTICS = ["mean", "highest", "lowest", "at start", "at end", "total", "1 % low", "0.1 % low"]
QUANTITIES = [
    "core clock", "memory clock", "voltage", "power", "energy", "current", "temperature", "fan", "fan speed", "noise", "load",
    "memory in use", "frame rate", "other",
]
ROLES = [
    "power limit", "core clock", "memory clock", "voltage", "curve point", "load line", "multiplier", "bus clock",
    "wait states", "fan", "core count", "other",
]
OUTCOMES = [
    "completed", "odd numbers", "program closed", "machine down", "no start", "stopped by a guard rail", "stopped by hand",
    "contact lost",
]
FIGURES = {
    "low_1_fps": ("frame rate", "whole machine", "1 % low"),
    "low_01_fps": ("frame rate", "whole machine", "0.1 % low"),
    "power_w": ("power", "tuned part", "mean"),
    "temp_max_c": ("temperature", "tuned part", "highest"),
    "temp_mean_c": ("temperature", "tuned part", "mean"),
    "temp_start_c": ("temperature", "tuned part", "at start"),
    "room_c": ("temperature", "room", "mean"),
    "core_mhz": ("core clock", "tuned part", "mean"),
    "memory_mhz": ("memory clock", "tuned part", "mean"),
    "voltage_v": ("voltage", "tuned part", "mean"),
}
POINTS = {
    "software": ("own report", "The part's own report"),
    "cables": ("clamp", "Clamp on the cables"),
    "wall": ("wall meter", "Meter at the wall"),
}
# The groups by which knobs were ordered until now, and roles inside them.
ROLE_WORDS = (
    ("power limit", ("power", "cap", "watt")),
    ("wait states", ("wait", "timing")),
    ("memory clock", ("memory",)),
    ("bus clock", ("bus",)),
    ("multiplier", ("multiplier",)),
    ("core clock", ("core", "clock")),
    ("load line", ("line",)),
    ("voltage", ("voltage", "volt")),
    ("fan", ("fan",)),
)
PRESETS = ("lowest", "low", "middle", "medium", "high", "very high", "highest", "ultra")
WORKLOAD_FIELDS = ("name", "measure", "unit", "higher_is_better", "kind", "parts", "techniques")


def words(names):
    return [(name, name) for name in names]


def options_of(text):
    options, noted = {}, []
    for piece in (piece.strip() for piece in text.split(",")):
        if re.fullmatch(r"\d{3,5}\s*[x×]\s*\d{3,5}", piece) and "resolution" not in options:
            options["resolution"] = piece
        elif piece.lower() in PRESETS and "preset" not in options:
            options["preset"] = piece
        elif piece:
            noted.append(piece)
    if noted:
        options["as noted"] = ", ".join(noted)
    return options


def forward(apps, schema_editor):
    model = {name: apps.get_model("logbook", name) for name in (
        "Variant", "Workload", "Run", "Figure", "InstrumentRow", "KnobRow", "Campaign", "Target", "QueueItem", "Rig", "LiveRun",
    )}
    _workloads(model)
    _knobs(model)
    _figures(model)
    _stopped_by_hand(apps)


def _workloads(model):
    """One workload for all rigs that have the same; and one variant where options, length and cap are the same too."""
    of_content, of_variant, renamed = {}, {}, {}
    for variant in model["Variant"].objects.order_by("id"):
        content = tuple(repr(getattr(variant, field)) for field in WORKLOAD_FIELDS)
        workload = of_content.get(content)
        if workload is None:
            fields = {field: getattr(variant, field) for field in WORKLOAD_FIELDS}
            workload = of_content[content] = model["Workload"].objects.create(uid=uuid.uuid4(), **fields)
        options = options_of(variant.options)
        variant.workload, variant.named_options = workload, options
        variant.save(update_fields=["workload", "named_options"])
        mark = (workload.pk, repr(sorted(options.items())), variant.minutes, variant.cap_fps)
        known = of_variant.setdefault(mark, {})
        # two alike on one rig were told apart by whoever made them, and stay apart
        other = next((one for rig_id, one in known.items() if rig_id != variant.rig_id), None)
        if other is None or variant.rig_id in known:
            known.setdefault(variant.rig_id, variant)
            continue
        known[variant.rig_id] = other
        renamed[str(variant.uid)] = str(other.uid)
        model["Run"].objects.filter(variant=variant).update(variant=other)
        model["QueueItem"].objects.filter(variant=variant).update(variant=other)
        for campaign in model["Campaign"].objects.filter(workloads=variant):
            campaign.workloads.remove(variant)
            campaign.workloads.add(other)
        for campaign in model["Campaign"].objects.filter(battery=variant):
            campaign.battery.remove(variant)
            campaign.battery.add(other)
        variant.delete()
    for campaign in model["Campaign"].objects.all():
        campaign.weights = {renamed.get(uid, uid): weight for uid, weight in campaign.weights.items()}
        campaign.save(update_fields=["weights"])
        # what was taken from the battery once still counts for what its runs showed
        used = set(model["Run"].objects.filter(campaign=campaign).values_list("variant_id", flat=True))
        asked = {*campaign.workloads.values_list("pk", flat=True), *campaign.battery.values_list("pk", flat=True)}
        campaign.retired.add(*(used - asked))
    for target in model["Target"].objects.all():
        target.results = {renamed.get(uid, uid): value for uid, value in target.results.items()}
        target.save(update_fields=["results"])


def _knobs(model):
    for knob in model["KnobRow"].objects.all():
        said = f"{knob.key} {knob.name}".lower()
        knob.role = next((role for role, marks in ROLE_WORDS if any(mark in said for mark in marks)), "other")
        knob.save(update_fields=["role"])


def _figures(model):
    instruments = {}

    def instrument(rig_id, point):
        if point not in POINTS:
            return None
        if (rig_id, point) not in instruments:
            kind, name = POINTS[point]
            instruments[rig_id, point] = model["InstrumentRow"].objects.create(
                uid=uuid.uuid4(), rig_id=rig_id, name=name, kind=kind, quantity="power",
                part="whole machine" if point == "wall" else "tuned part",
            )
        return instruments[rig_id, point]

    rows = []
    lives = {live.run_id for live in model["LiveRun"].objects.all()}
    for run in model["Run"].objects.select_related("campaign").order_by("id").iterator(chunk_size=500):
        rig_id = run.campaign.rig_id
        typed = dict(run.typed)
        for field, (quantity, part, statistic) in FIGURES.items():
            value = getattr(run, field)
            from_log = field in run.log_figures
            source = ("live" if run.pk in lives else "log") if from_log else "typed"
            shared = {"run_id": run.pk, "quantity": quantity, "part": part, "statistic": statistic}
            if value is not None:
                read_by = instrument(rig_id, run.power_point) if field == "power_w" else None
                rows.append(model["Figure"](value=value, instrument=read_by, source=source, **shared))
            if field in typed:
                read_by = instrument(rig_id, typed.get("power_point")) if field == "power_w" else None
                rows.append(model["Figure"](value=typed.pop(field), instrument=read_by, replaced=True, **shared))
        typed.pop("power_point", None)
        kept = [field for field in run.log_figures if field not in FIGURES]
        if typed != run.typed or kept != run.log_figures:
            model["Run"].objects.filter(pk=run.pk).update(typed=typed, log_figures=kept)
    model["Figure"].objects.bulk_create(rows, batch_size=500)


def _stopped_by_hand(apps):
    """Runs that someone stopped were booked under a guard rail; the mark beside them says who it was."""
    Mark = apps.get_model("logbook", "Mark")
    by_hand = Mark.objects.filter(kind="outcome", text__startswith="Stopped by a guard rail: Stopped by hand")
    for run in apps.get_model("logbook", "Run").objects.filter(
        pk__in=by_hand.values("run_id"), outcome="stopped by a guard rail"
    ):
        run.outcome = "stopped by hand"
        run.save(update_fields=["outcome"])


class Migration(migrations.Migration):
    dependencies = [("logbook", "0003_proof_and_practice")]

    operations = [
        migrations.RemoveIndex("Run", "logbook_run_campaig_befdc8_idx"),
        migrations.RenameModel("Workload", "Variant"),
        migrations.RenameField("Run", "workload", "variant"),
        migrations.RenameField("QueueItem", "workload", "variant"),
        migrations.CreateModel(
            name="Workload",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("uid", models.UUIDField(default=uuid.uuid4, editable=False, unique=True)),
                ("name", models.CharField(max_length=120)),
                ("measure", models.CharField(choices=[("frame rate", "Frame rate"), ("score", "Score"), ("time", "Time")], max_length=20)),
                ("unit", models.CharField(max_length=20)),
                ("higher_is_better", models.BooleanField()),
                ("kind", models.CharField(choices=words(["stress test", "benchmark", "title", "everyday"]), default="title", max_length=20)),
                ("parts", models.JSONField(default=list)),
                ("techniques", models.JSONField(default=list)),
            ],
            options={"ordering": ["id"]},
        ),
        migrations.CreateModel(
            name="InstrumentRow",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("uid", models.UUIDField(default=uuid.uuid4, editable=False, unique=True)),
                ("name", models.CharField(max_length=80)),
                ("kind", models.CharField(choices=words(["own report", "clamp", "wall meter", "thermometer", "sound meter", "other"]), max_length=20)),
                ("quantity", models.CharField(max_length=20)),
                ("part", models.CharField(choices=words(PARTS), default="tuned part", max_length=20)),
                ("place", models.CharField(blank=True, max_length=160)),
                ("resolution", models.FloatField(null=True)),
                ("offset", models.FloatField(default=0.0)),
                ("offset_sd", models.FloatField(default=0.0)),
                ("factor", models.FloatField(default=1.0)),
                ("factor_sd", models.FloatField(default=0.0)),
                ("trust", models.CharField(choices=words(["trusted", "suspect", "wrong"]), default="trusted", max_length=10)),
                ("trust_since", models.DateTimeField(null=True)),
                ("trust_why", models.CharField(blank=True, max_length=300)),
                ("replaced_by", models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="replaces", to="logbook.instrumentrow")),
                ("rig", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="instruments", to="logbook.rig")),
            ],
            options={
                "db_table": "logbook_instrument",
                "ordering": ["id"],
                "constraints": [models.UniqueConstraint(fields=("rig", "name", "quantity"), name="one_instrument_a_name")],
            },
        ),
        migrations.CreateModel(
            name="Figure",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("quantity", models.CharField(choices=words(QUANTITIES), max_length=20)),
                ("part", models.CharField(choices=words(PARTS), max_length=20)),
                ("statistic", models.CharField(choices=words(STATISTICS), max_length=12)),
                ("value", models.FloatField()),
                ("source", models.CharField(choices=[("typed", "Typed"), ("log", "From a log"), ("live", "Live")], default="typed", max_length=6)),
                ("replaced", models.BooleanField(default=False)),
                ("instrument", models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name="figures", to="logbook.instrumentrow")),
                ("run", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="figures", to="logbook.run")),
            ],
            options={
                "ordering": ["id"],
                "constraints": [
                    models.UniqueConstraint(
                        condition=models.Q(("replaced", False)), fields=("run", "quantity", "part", "statistic", "instrument"),
                        name="one_reading_an_instrument",
                    )
                ],
            },
        ),
        migrations.AddField("Variant", "workload", models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name="variants", to="logbook.workload")),
        migrations.AddField("Variant", "named_options", models.JSONField(default=dict)),
        migrations.AddField("KnobRow", "role", models.CharField(choices=words(ROLES), default="other", max_length=16)),
        migrations.AddField("KnobRow", "part", models.CharField(choices=words(PARTS), default="tuned part", max_length=20)),
        migrations.AddField("KnobRow", "retired_at", models.DateTimeField(null=True)),
        migrations.AddField("Campaign", "archived_at", models.DateTimeField(null=True)),
        migrations.AddField("Campaign", "deleted_at", models.DateTimeField(null=True)),
        migrations.AddField("Campaign", "counting", models.JSONField(default=dict)),
        migrations.AddField("Campaign", "retired", models.ManyToManyField(related_name="retired_from", to="logbook.variant")),
        migrations.AlterField("Run", "outcome", models.CharField(choices=words(OUTCOMES), max_length=30)),
        migrations.AlterField("Run", "started_at", models.DateTimeField(db_index=True)),
        migrations.RunPython(forward),
        migrations.AlterModelOptions("Variant", {"base_manager_name": "objects", "ordering": ["position", "id"]}),
        *[migrations.RemoveField("Variant", field) for field in ("rig", *WORKLOAD_FIELDS, "options")],
        migrations.RenameField("Variant", "named_options", "options"),
        migrations.AlterField("Variant", "workload", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="variants", to="logbook.workload")),
        *[migrations.RemoveField("Run", field) for field in (*FIGURES, "power_point")],
        migrations.AddIndex(
            "Run", models.Index(fields=["campaign", "variant", "setting"], name="logbook_run_campaig_448cc0_idx")
        ),
    ]
