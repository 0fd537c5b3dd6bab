"""An oracle for change tokens: the database itself notes what every statement changes, whoever sent it.

Temporary triggers live in one connection, so the file that is tested stays as the program makes it.
"""

from django.db import connection

from trelvo.logbook.models import ChangeToken

_OF_RUN = "(SELECT campaign_id FROM logbook_run WHERE id = {row}.run_id)"
_OF_KEPT_SETTING = "(SELECT campaign_id FROM logbook_keptsetting WHERE id = {row}.kept_setting_id)"
_OF_BUILD = "(SELECT rig_id FROM logbook_build WHERE id = {row}.build_id)"
_OF_CAMPAIGN = "(SELECT rig_id FROM logbook_campaign WHERE id = {row}.campaign_id)"
_CAMPAIGN = ("campaign", "{row}.campaign_id")
# What a snapshot is made of: by table, whose it is.
WATCHED = {
    "campaign": (("campaign", "{row}.id"),),
    "campaign_workloads": (_CAMPAIGN, ("rig", _OF_CAMPAIGN)),
    "campaign_test_suite": (_CAMPAIGN, ("rig", _OF_CAMPAIGN)),
    "campaign_retired": (_CAMPAIGN,),
    "knob": (_CAMPAIGN,),
    "setting": (_CAMPAIGN,),
    "safety_limit": (_CAMPAIGN,),
    "target": (_CAMPAIGN,),
    "cautionyes": (_CAMPAIGN,),
    "run": (_CAMPAIGN,),
    "figure": (("campaign", _OF_RUN),),
    "series": (("campaign", _OF_RUN),),
    "keptsetting": (_CAMPAIGN,),
    "inuse": (("campaign", _OF_KEPT_SETTING),),
    "useentry": (("campaign", _OF_KEPT_SETTING),),
    "build": (("rig", "{row}.rig_id"),),
    "part": (("rig", _OF_BUILD),),
    "instrument": (("rig", "{row}.rig_id"),),
    "journalentry": (("rig", "{row}.rig_id"),),
    "workload": (("workloads", "''"),),
    "variant": (("workloads", "''"),),
}
# What no snapshot holds: benches at work, logs, marks, and what is remembered for forms.
NOT_WATCHED = {
    "benchaccount", "benchtoken", "live_run", "chunk", "queue", "queue_item", "columnmapping", "practice", "mark",
    "changetoken", "campaignsummary", "rig",
}  # fmt: skip
_SIDES = {"INSERT": ("NEW",), "UPDATE": ("OLD", "NEW"), "DELETE": ("OLD",)}


def watch() -> None:
    """Begin to note changes on this connection."""
    with connection.cursor() as cursor:
        cursor.execute("CREATE TEMP TABLE IF NOT EXISTS noted (subject TEXT)")
        for table, owners in WATCHED.items():
            for verb, sides in _SIDES.items():
                body = " ".join(
                    f"INSERT INTO noted SELECT '{kind} ' || {number.format(row=side)};"
                    for kind, number in owners
                    for side in sides
                )
                cursor.execute(
                    f"CREATE TEMP TRIGGER IF NOT EXISTS noted_{table}_{verb} AFTER {verb} ON main.logbook_{table} "
                    f"BEGIN {body} END"
                )
        cursor.execute(
            "CREATE TEMP TRIGGER IF NOT EXISTS noted_rig AFTER UPDATE OF name ON main.logbook_rig "
            "BEGIN INSERT INTO noted SELECT 'rig ' || NEW.id; END"
        )


def tokens() -> dict[str, str]:
    return dict(ChangeToken.objects.values_list("subject", "token"))


def begin() -> dict[str, str]:
    """Forget what was noted; the tokens as they are."""
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM noted")
    return tokens()


def left_unsaid(before: dict[str, str]) -> list[str]:
    """What has changed since `before` without its token being replaced."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT DISTINCT trim(subject) FROM noted WHERE subject IS NOT NULL")
        changed = [row[0] for row in cursor.fetchall()]
    now = tokens()
    return sorted(subject for subject in changed if now.get(subject, "") == before.get(subject, ""))
