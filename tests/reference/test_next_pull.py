"""What the next pull comes to: the simple case against the closed form of a textbook, the whole against samples of the same belief, the nominal rate
against pulls drawn from worlds that are wider than what is believed of them."""

import numpy as np
import pytest
from scipy import stats

from rigging.mechanics.next_pull import next_of
from rigging.quantities.ranges import Range

BY_CATALOGUE = Range(5000.0, 6500.0, 8000.0)
# Where the next lies nineteen times in twenty.
NOMINAL = 0.95


def drawn(rng, middle, scatter, count):
    return middle * np.exp(scatter * rng.standard_normal(count))


@pytest.mark.parametrize("count", [3, 10, 30, 100])
@pytest.mark.parametrize(("middle", "scatter"), [(6500, 0.05), (6500, 0.12), (6500, 0.2), (4000, 0.12), (10_000, 0.15)])
def test_ranges_hold_the_next_pull_at_their_nominal_rate_in_worlds_the_catalogue_does_not_know(middle, scatter, count):
    rng = np.random.default_rng(count)
    held = []
    for _ in range(60):
        found = next_of(BY_CATALOGUE, list(drawn(rng, middle, scatter, count))).range
        after = drawn(rng, middle, scatter, 200)
        held.append(np.mean((found.low <= after) & (after <= found.high)))
    assert np.mean(held) >= NOMINAL - (0.05 if count == 3 else 0.025)


def test_with_nothing_known_beforehand_it_is_the_textbooks_students_t():
    """Normal data, mean and variance unknown and nothing said of either: the next is Student's t about the mean with s·√(1 + 1/n) (Gelman et al.,
    Bayesian Data Analysis, 3.2). A belief so wide that it says nothing comes to that, but for the doubt of the gauge."""
    pulls = drawn(np.random.default_rng(5), 7000, 0.25, 60)
    logs = np.log(pulls)
    spread = np.hypot(logs.std(ddof=1) * np.sqrt(1 + 1 / len(logs)), 0.05 * np.sqrt(2))
    low, high = np.exp(logs.mean() + spread * stats.t.ppf([0.025, 0.975], len(logs) - 1))
    found = next_of(Range(1000, 7000, 49_000), list(pulls)).range
    assert found.low == pytest.approx(min(low, pulls.min()), rel=0.04)
    assert found.high == pytest.approx(max(high, pulls.max()), rel=0.04)


@pytest.mark.parametrize(
    ("at", "beyond"), [([6000, 7000, 7500], []), ([6000, 6300], [9000, 9500]), ([], [9000, 9500, 9800])]
)
def test_the_grid_agrees_with_samples_of_the_same_belief_weighted_by_what_was_seen(at, beyond):
    """A second method: importance sampling of mean and scatter from the belief, no grid."""
    rng = np.random.default_rng(2)
    count, spread = 400_000, np.log(8000 / 5000) / 2 / 1.96
    mean = np.log(5000 * 8000) / 2 + spread * np.sqrt(0.5) * rng.standard_t(4, count)
    scatter = max(spread * np.sqrt(0.5), 0.1) * np.exp(0.6 * rng.standard_normal(count))
    says = sum((stats.norm.logpdf(np.log(one), mean, scatter) for one in at), np.zeros(count))
    says += sum((stats.norm.logsf(np.log(one), mean, scatter) for one in beyond), np.zeros(count))
    weights = np.exp(says - says.max())
    chosen = rng.choice(count, 200_000, p=weights / weights.sum())
    after = mean[chosen] + np.hypot(scatter[chosen], 0.05 * np.sqrt(2)) * rng.standard_normal(len(chosen))
    low, expected, high = np.exp(np.quantile(after, [0.025, 0.5, 0.975]))
    found = next_of(BY_CATALOGUE, at, beyond).range
    assert found.expected == pytest.approx(expected, rel=0.03)
    assert found.low == pytest.approx(min(low, *at, low), rel=0.05)
    assert found.high == pytest.approx(max(high, *at, *beyond), rel=0.05)


def test_three_narrow_little_and_thirty_much():
    wide, middle = Range(3000, 6500, 14_000), drawn(np.random.default_rng(1), 6500, 0.1, 30)
    nothing, three, thirty = (next_of(wide, list(middle[:n])).range for n in (0, 3, 30))
    assert nothing == wide
    asked = [np.log(one.high / one.low) for one in (nothing, three, thirty)]
    assert 0.5 * asked[0] < asked[1] < asked[0]
    assert asked[2] < 0.4 * asked[0]


def test_what_was_seen_is_never_outside_and_one_that_stands_apart_is_named():
    pulls = [6400.0, 6600, 6900, 6300, 6700, 65_000, 6500]
    found = next_of(BY_CATALOGUE, pulls)
    assert found.odd == (5,)
    assert found.range.low <= min(pulls)
    assert found.range.high >= max(pulls)
    assert next_of(BY_CATALOGUE, pulls[:5]).odd == ()


def test_what_broke_late_says_that_it_slips_later_not_there():
    """Pulls that broke without slipping lift where it slips; taken for slips at that force they would lift it to there and no higher."""
    slipped = [6000.0, 6200.0]
    alone, broke, taken_for_slips = next_of(BY_CATALOGUE, slipped), next_of(BY_CATALOGUE, slipped, [9000.0]), next_of(BY_CATALOGUE, [*slipped, 9000.0])  # fmt: skip
    assert broke.range.expected > alone.range.expected
    assert broke.range.high > taken_for_slips.range.high
