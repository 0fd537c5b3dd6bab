"""What is wrong with comparing."""

from trelvo.messages.wording import Wording

WORDINGS: dict[str, Wording] = {
    "ambiguous_number": Wording("“{typed}” may be {thousands} or {decimals}.", "Type {thousands} or {decimals}."),
    "candidates_not_numbers": Wording("Candidates are setting numbers.", "Choose them from the list of settings."),
    "chain_too_short": Wording("A chain has at least two values.", "Add the next one."),
    "claim_value_not_above_zero": Wording("A value is not above zero, so no ratio exists.", "Correct it."),
    "factor_not_above_zero": Wording("A factor is above zero.", "Type it, such as 1.08."),
    "no_such_setting": Wording("There is no setting {setting} (any more).", "Choose from the list again."),
    "nothing_to_check_by": Wording(
        "There is nothing to check it by.", "Give before and after, a chain of values, or the gains of the steps."
    ),
    "several_ways_to_check": Wording(
        "Several ways of checking it are filled in.",
        "Give before and after, a chain of values, or the gains of the steps.",
    ),
    "step_loses_everything": Wording("A step cannot lose all of the speed.", "Correct the step's figure."),
    "steps_give_no_amount": Wording("Steps in percent give no amount.", "Choose percent or times."),
    "too_many_candidates": Wording("{count} candidates were chosen.", "Choose at most {most} at once."),
    "typed_not_a_number": Wording("“{typed}” is not a number.", "Type a number, such as 93.4."),
}
