"""The line along one knob: its settings, their runs as trials, and the belief that these give."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

from trelvo.core.base.knobs import Knob, effect_of
from trelvo.core.campaign import Build, CampaignSnapshot, Setting
from trelvo.core.climb.edge import EdgePosterior
from trelvo.core.climb.harder import asks_no_more_than_stock, decides_stability
from trelvo.core.climb.least_stable import stock_is_stable
from trelvo.core.climb.policy import Policy
from trelvo.core.climb.priors import Priors
from trelvo.core.climb.stability import ACCEPTED_PER_H
from trelvo.core.climb.steepness import Steepness
from trelvo.core.climb.stress import Stress
from trelvo.core.climb.trials import Trial
from trelvo.core.climb_line.along import Others, others_of, run_most, settings_along, turned_last, without
from trelvo.core.climb_line.beliefs import believed
from trelvo.core.climb_line.off_line import failed_at_easier, survived_at_harder
from trelvo.core.climb_line.trials import TrialMark, marks_under
from trelvo.core.climb_line.use import use_trials
from trelvo.core.memo import on_snapshot
from trelvo.core.problems import Problem, Refused


@dataclass(frozen=True)
class Line:
    """The settings along one knob, and what was run on them.

    survived: what held at settings that ask more than these; failed: what failed at settings that ask less
    in_use: what kept settings did in use, where that says something here
    """

    knob: Knob
    base: Mapping[str, float]
    along: Mapping[float, Setting]
    build: Build | None
    marks: tuple[TrialMark, ...]
    steepness: Steepness
    stresses: Mapping[int, Stress] = field(default_factory=dict)
    survived: tuple[Trial, ...] = ()
    failed: tuple[Trial, ...] = ()
    in_use: tuple[Trial, ...] = ()

    @cached_property
    def trials(self) -> tuple[Trial, ...]:
        return (*(mark.trial for mark in self.marks), *self.survived, *self.failed, *self.in_use)

    @cached_property
    def values_run(self) -> frozenset[float]:
        return frozenset(mark.value for mark in self.marks)

    @cached_property
    def belief(self) -> EdgePosterior:
        return believed(self.knob, self.trials, self.steepness)


def line_of(
    campaign: CampaignSnapshot,
    priors: Priors,
    knob_key: str | None,
    base_id: int | None,
    base_values: Mapping[str, float] | None = None,
) -> Line:
    """The settings along a knob and their runs. base_values: what the others are at, where no setting has them yet

    Where none is named: for a knob, the line along which it has been run most; else that of the newest setting that turned
    something.
    """
    knobs = {knob.key: knob for knob in campaign.knobs}
    settings = campaign.settings
    newest = next((setting for setting in reversed(settings) if setting.values), settings[0])
    base = next((setting for setting in settings if setting.id == base_id), None)
    if base is None:
        base = run_most(campaign, knob_key) if knob_key else newest
    turned = [key for key, knob in knobs.items() if not knob.retired] or list(knobs)
    key = knob_key or turned_last(turned, base)
    if key not in knobs:
        raise Refused(Problem("knob", "no_such_knob", {"knob": key, "known": tuple(knobs)}))
    others = without(base, key)
    if base_values is not None:
        others = {name: value for name, value in base_values.items() if name != key}
    return _line(campaign, priors, knobs[key], others_of(others))


@on_snapshot
def _line(campaign: CampaignSnapshot, priors: Priors, knob: Knob, mark: Others) -> Line:
    others, steepness = dict(mark), priors.steepness_of(knob)
    along = settings_along(campaign, knob).get(mark, {})
    places = {setting.id: value for value, setting in along.items()}
    under = {campaign.judged_build.id} if campaign.judged_build else set()
    marks, stresses = marks_under(campaign, priors, knob, places, steepness, under)
    survived = survived_at_harder(campaign, knob, others, steepness, stresses)
    if knob.turning == "helps" and asks_no_more_than_stock(campaign.knobs, others):
        survived = (*survived, stock_is_stable(knob))
    failed = failed_at_easier(campaign, knob, others, steepness, stresses)
    in_use = use_trials(campaign, knob, others, steepness, stresses)
    return Line(
        knob=knob,
        base=others,
        along=along,
        build=campaign.judged_build,
        marks=marks,
        steepness=steepness,
        stresses=stresses,
        survived=survived,
        failed=failed,
        in_use=in_use,
    )


def stability_line(
    campaign: CampaignSnapshot,
    priors: Priors,
    setting: Setting,
    per_h: float = ACCEPTED_PER_H,
    *,
    cautious: bool = False,
) -> tuple[Line, float] | None:
    """The line along which a setting's stability is judged, and its value there; None where nothing turned can be judged.

    A setting is no surer than the least sure of its knobs: of its lines, the one along which it is least likely to be within
    `per_h` failures an hour.
    """
    lines = stability_lines(campaign, priors, setting)
    tested = [line for line in lines if line[0].trials]
    if len(tested) == 1:
        return tested[0]
    return min(
        tested,
        key=lambda one: one[0].belief.chance_stable(one[1], per_h, cautious=cautious),
        default=lines[0] if lines else None,
    )


def stability_lines(campaign: CampaignSnapshot, priors: Priors, setting: Setting) -> list[tuple[Line, float]]:
    """The line of the knob turned last, then those through the setting on which several values were run; each with its value."""
    last = line_of_last_turned(campaign, priors, setting)
    if last is None:
        return []
    turned = [
        knob for knob in campaign.knobs if setting.values.get(knob.key, knob.stock) != knob.stock and knob.facts.tested
    ]
    lines = [(_line_through(campaign, priors, setting, knob), float(setting.values[knob.key])) for knob in turned]
    several = [line for line in lines if len(line[0].values_run) > 1]
    return [last, *(one for one in several if one[0] is not last[0])]


def line_of_last_turned(campaign: CampaignSnapshot, priors: Priors, setting: Setting) -> tuple[Line, float] | None:
    """The line along the knob that a setting turned last, and its value there; None where nothing turned can be judged."""
    knob = decides_stability(campaign.knobs, setting.values)
    return None if knob is None else (line_of(campaign, priors, knob.key, setting.id), float(setting.values[knob.key]))


def _line_through(campaign: CampaignSnapshot, priors: Priors, setting: Setting, knob: Knob) -> Line:
    """The line along a knob that tells most of a setting: with all others as they are, or only with those listed before the knob,
    as they are climbed one after the other; whichever more settings lie on.

    Of the knobs left out none helps: with them the setting can only be less stable than on the line.
    """
    lines = settings_along(campaign, knob)
    order = [one.key for one in campaign.knobs]
    others = without(setting, knob.key)
    before = {
        one.key: others[one.key]
        for one in campaign.knobs
        if one.key in others
        and (
            order.index(one.key) < order.index(knob.key)
            or effect_of(one, 1 if others[one.key] > one.stock else -1) == "helps"
        )
    }
    if len(lines.get(others_of(before), {})) > len(lines.get(others_of(others), {})):
        return line_of(campaign, priors, knob.key, None, before)
    return line_of(campaign, priors, knob.key, setting.id)


def within_safety_limits(campaign: CampaignSnapshot, knob: Knob, policy: Policy) -> Policy:
    """The policy with the safety limits' ceiling for the knob as a limit, or as its beginning where the knob is turned down."""
    ceilings = [
        safety_limit.limit
        for safety_limit in campaign.safety_limits
        if safety_limit.kind == "voltage ceiling" and safety_limit.channel == knob.key
    ]
    if not ceilings:
        return policy
    if knob.away == 1:
        return replace(policy, limit=min(ceilings))
    return replace(policy, begin=min(ceilings)) if min(ceilings) < knob.stock else policy
