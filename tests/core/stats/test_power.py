from trelvo.core.base.runs import RunFacts
from trelvo.core.stats.power import PowerSummary, summarise_power, watts_saved


def read(watts, point="software", by=""):
    return RunFacts(1, 1, 1, "completed", 90.0, power_w=watts, power_point=point, read_by={"power_w": by} if by else {})


def test_mean_at_one_point():
    assert summarise_power([read(200), read(204), read(None)]) == PowerSummary(202, "software", False, 2)


def test_no_mean_over_different_points():
    # common practice: software, cables and wall measure three different things
    summary = summarise_power([read(200), read(310, "wall")])
    assert summary.mean_w is None
    assert summary.mixed
    assert summarise_power([read(200, "wall", "old meter"), read(210, "wall", "new meter")]).mixed


def test_watts_are_saved_only_at_the_same_point():
    stock, less = PowerSummary(200, "cables", False, 3), PowerSummary(150, "cables", False, 3)
    assert watts_saved(stock, less) == 50
    assert watts_saved(stock, PowerSummary(150, "wall", False, 3)) is None
    assert watts_saved(stock, PowerSummary(150, "cables", False, 3, "another clamp")) is None
    # of both nobody said who read them: one readout
    assert watts_saved(PowerSummary(200, "unknown", False, 1), PowerSummary(150, "unknown", False, 1)) == 50
    assert watts_saved(PowerSummary(200, "unknown", False, 1), stock) is None
    assert watts_saved(stock, summarise_power([])) is None
