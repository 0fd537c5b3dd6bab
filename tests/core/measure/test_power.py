from trelvo.core.measure.power import PowerSummary, summarise_power, watts_saved


def test_mean_at_one_point():
    assert summarise_power([(200, "software"), (204, "software")]) == PowerSummary(202, "software", False, 2)


def test_no_mean_over_different_points():
    # common practice: software, cables and wall measure three different things
    summary = summarise_power([(200, "software"), (310, "wall")])
    assert summary.mean_w is None
    assert summary.mixed


def test_watts_are_saved_only_at_the_same_known_point():
    stock, less = PowerSummary(200, "cables", False, 3), PowerSummary(150, "cables", False, 3)
    assert watts_saved(stock, less) == 50
    assert watts_saved(stock, PowerSummary(150, "wall", False, 3)) is None
    assert watts_saved(PowerSummary(200, "unknown", False, 1), PowerSummary(150, "unknown", False, 1)) is None
    assert watts_saved(stock, summarise_power([])) is None
