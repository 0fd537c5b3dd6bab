"""What is wrong with a field of a form, a body or a file."""

from trelvo.messages.wording import Wording

_SHOWN: dict[str, Wording] = {
    "field_not_a_number": Wording("{shown} is no number.", "Write a number."),
    "field_not_a_text": Wording("{shown} is no text.", "Write a text."),
    "neither_yes_nor_no": Wording("{shown} is neither yes nor no.", "Write true or false."),
    "not_a_choice": Wording("{shown} is not one of the choices.", "Choose {expected}."),
    "not_a_date_with_time": Wording("{shown} is no date with a time.", "Write it like 2026-03-01T20:15:00+01:00."),
    "not_a_whole_number": Wording("{shown} is no whole number.", "Write a whole number."),
    "number_above": Wording("{shown} is too much: the most is {le}.", "Write a smaller number."),
    "number_below": Wording("{shown} is too little: the least is {ge}.", "Write a larger number."),
    "number_not_above": Wording("{shown} is too little: it must be more than {gt}.", "Write a larger number."),
    "number_not_below": Wording("{shown} is too much: it must be less than {lt}.", "Write a smaller number."),
    "text_malformed": Wording("{shown} is not written as it should be.", "Correct it."),
}
WORDINGS: dict[str, Wording] = {
    **_SHOWN,
    **{f"{code}_empty": Wording("Nothing stands here.", wording.todo) for code, wording in _SHOWN.items()},
    "body_not_json": Wording("The body is no JSON.", "Send it again, as JSON."),
    "field_empty": Wording("This is empty.", "Please fill this in."),
    "field_missing": Wording("This is missing.", "Please fill this in."),
    "field_refused": Wording("{message}.", "Correct this field."),
    "field_unknown": Wording("There is no field of this name.", "Leave it out."),
    "list_too_long": Wording("These are {actual_length}; at most {max_length} can be taken.", "Leave some out."),
    "list_too_short": Wording("These are {actual_length}; at least {min_length} are needed.", "Add what is missing."),
    "not_a_list": Wording("This is no list.", "Write a list."),
    "not_named_values": Wording("These are no named values.", "Write names, each with its value."),
    "number_not_finite": Wording("This is no number that can be counted with.", "Write a number."),
    "text_too_long_for_field": Wording("This is longer than {max_length} characters.", "Shorten it."),
    "text_too_short": Wording("This has fewer than {min_length} characters.", "Please fill this in."),
}
