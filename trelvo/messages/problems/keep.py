"""What is wrong with settings that are kept."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "failure_minutes_impossible": Wording("{minutes:g} minutes cannot be.", "Type how long it ran until it failed."),
    "failure_settled": Wording("This failure has been settled.", "Log a new one if it failed again."),
    "kept_setting_gone": Wording("{kept_setting} is no longer kept.", "Keep its setting again first."),
    "kept_setting_name_missing": Wording("Name of the kept setting: please fill this in.", "Such as: every day."),
    "kept_setting_name_taken": Wording("This rig keeps a setting named {name} already.", "Type another name."),
    "no_hours_no_failure": Wording("No hours and no failure: there is nothing to log.", "Type how long it was used."),
    "not_a_failure": Wording("{outcome} is no failure.", "Choose: {known}."),
    "rig_not_described": Wording("The rig is not described yet.", "Describe how it is put together first."),
    "test_minutes_out_of_range": Wording("{minutes:g} minutes is no length for a test.", "Type 0.1 to 1440."),
    "unknown_probe": Wording("{probe} is no test of this search.", "Choose: {known}."),
    "unknown_suspect": Wording("{suspect} is no suspect.", "Choose: {known}."),
    "unknown_use": Wording("{use} is no use that Trelvo knows.", "Choose: {known}."),
    "use_hours_out_of_range": Wording("{hours:g} hours of use cannot be.", "Type 0 to {most:.0f}."),
}
