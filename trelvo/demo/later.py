"""What the volunteers keep and use, and what happened to their machines outside runs."""

from datetime import datetime, timedelta

from trelvo.core.goal.cautions import cautions_of
from trelvo.core.keep.service import evidence_of, proof_of
from trelvo.logbook.cases import case_of
from trelvo.logbook.commands.campaigns import WorkloadDraft, set_test_suite
from trelvo.logbook.commands.journal import say_yes, write_entry
from trelvo.logbook.commands.kept_settings import keep, log_probe, log_use, settle_failure, take_out_of_use
from trelvo.logbook.models import Campaign, KeptSetting, Rig
from trelvo.messages.cautions import agreed_text
from trelvo.messages.texts import rendered


def keep_setting(campaign: Campaign, values: dict[str, float], name: str, use: str, at: datetime) -> KeptSetting:
    """Keeps a setting of a campaign as it is at that moment, and puts it in use."""
    case = case_of(campaign)
    setting = next(one for one in case.campaign.settings if one.values == values)
    build = case.campaign.judged_build
    if build is None:
        raise RuntimeError("every rig of the tower was made with a build")
    evidence, proof = rendered(evidence_of(case, setting, at)), proof_of(case, setting, list(case.campaign.testable))
    return keep(
        campaign=campaign,
        setting_id=setting.id,
        build_id=build.id,
        name=name,
        use=use,
        components=[],
        evidence=evidence,
        proof=proof,
        now=at,
        in_use=True,
    )


def winter(campaign: Campaign, at: datetime, until: datetime) -> None:
    """The first try, kept through the cold weeks; summer and a new driver have made its proof stale."""
    kept_setting = keep_setting(campaign, {"core": 60}, "Winter nights", "every day", at)
    log_use(kept_setting, 58, at + timedelta(days=14), note="Two weeks of evening shows.")
    log_use(kept_setting, 61, at + timedelta(days=30), note="Full houses, nothing to report.")
    take_out_of_use(kept_setting, until)


def summer(campaign: Campaign, at: datetime, now: datetime) -> None:
    """What the long evenings have proved, in use since; and a failure that nobody has looked into yet."""
    kept_setting = keep_setting(campaign, {"power": 120, "core": 60}, "Summer shows", "summer", at)
    show = campaign.workloads.get(workload__name="Winter sky show")
    log_use(kept_setting, 5.5, min(at + timedelta(days=1), now), variant=show, room_c=28.5)
    log_use(
        kept_setting, 2, min(at + timedelta(days=2), now), outcome="program crash", minutes=42, variant=show, room_c=29.5,
        note="In the middle of Scorpius. Nobody has looked into it yet.",
    )  # fmt: skip
    case = case_of(campaign)
    for one in cautions_of(case):
        if one.caution.before_knobs or one.caution.key == "connectors":
            say_yes(campaign, one.caution.key, agreed_text(one.caution), at)


def journal(dome: Rig, now: datetime) -> None:
    """A dated line for whatever a run cannot know."""
    for days, kind, text, room_c in (
        (
            38,
            "thought",
            "Left at **+60 MHz** over the cold weeks: nobody sits beside it, and the *attic is at 12 °C*.",
            None,
        ),
        (21, "dust", "Blew out the fins and the filter. About a spoonful of moth.", None),
        (7, "season", "First hot week. The attic reads 28 °C at nine in the evening.", 28.0),
        (6, "driver", "Driver 41.5 for the new show:\n\n- longer intro, ray-traced rings\n- upscaling stays off", None),
    ):
        write_entry(dome, kind, text, now - timedelta(days=days), now, room_c)


def counter(campaign: Campaign, at: datetime, now: datetime) -> None:
    """The desk's undervolt, kept; a failure that turned out to be the program's own."""
    kept_setting = keep_setting(campaign, {"voltage": -25}, "Counter hours", "quiet", at)
    tables = campaign.workloads.first()
    log_use(kept_setting, 7, at + timedelta(hours=10), room_c=22.0)
    failed = log_use(
        kept_setting, 3, min(at + timedelta(hours=14), now), outcome="program crash", minutes=35, variant=tables, room_c=22.5,
        note="Closed in the middle of a school class.",
    )  # fmt: skip
    log_probe(failed, "stock", 48, now, failed=True)
    settle_failure(failed, "the program itself", now)
    warm = "The foyer's heating is on again: 28 °C at the counter."
    write_entry(campaign.rig, "season", warm, min(at + timedelta(hours=20), now), now, 28.0)
    # what the desk does besides from now on, and the proof never touched
    set_test_suite(campaign, [], [WorkloadDraft("Ticket queue", "frame rate", "fps", True, 2, techniques=("video",))])
