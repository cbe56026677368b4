"""What the next of a kind will come to, from what was believed of it and what those so far came to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

from rigging.mechanics.vectors import Array
from rigging.quantities.ranges import Range

# What was believed is a range that holds nineteen of twenty; half of its variance is from one to the next, the rest is what they are on the average.
_Z, _OF_EACH = 1.96, 1 / 2
# One differs from the next by a tenth at the least, as far as is known beforehand, and how well that is known (a factor of e to this); how ready the
# belief is to be wrong (Student's degrees of freedom).
_SCATTER, _SCATTER_KNOWN, _FREEDOM = 0.10, 0.6, 4.0
# Another gauge, another batch: no number of pulls of one shows it.
_BATCH = 0.05
# One that the others would have let come so seldom is looked at.
_ODD = 1e-3
_MEANS, _SCATTERS = 161, 61


@dataclass(frozen=True)
class Next:
    """Where the next lies, nineteen times in twenty; which so far are odd beside the others, by their places in `at` and then in `beyond`."""

    range: Range
    odd: tuple[int, ...]


def next_of(before: Range, at: Sequence[float], beyond: Sequence[float] = ()) -> Next:
    """The next of a positive quantity: known to be near `before`, `at` where it came, `beyond` what it was only seen to exceed.

    Logarithms are normal about a mean with a scatter, both unknown: the posterior of both on a grid (Gelman et al., Bayesian Data Analysis, 3.2 and
    3.7; what is only exceeded by its tail, as there in 8.7), and from it the posterior predictive of the next. The mean is believed beforehand as
    Student's t about the range's middle, so that many pulls far from it are believed more than it is. With nothing seen it is the range itself; what
    was seen is never outside.

    Examples
    --------
    Three say little, thirty much:

    >>> wide = next_of(Range(4000, 8000, 16000), [7000, 7500, 8000]).range
    >>> narrow = next_of(Range(4000, 8000, 16000), [7000, 7500, 8000] * 10).range
    >>> wide.high / wide.low > 1.3 * narrow.high / narrow.low > 1.5
    True
    """
    if not at and not beyond:
        return Next(before, ())
    came, passed = np.log(np.asarray(at, float)), np.log(np.asarray(beyond, float))
    half = max(np.log(before.high / before.low) / 2, 0.02)
    middle, spread = np.log(before.low * before.high) / 2, half / _Z
    each = max(spread * np.sqrt(_OF_EACH), _SCATTER)
    seen = np.concatenate([came, passed])
    reach = 4 * half + 6 * _BATCH
    mean = np.linspace(min(middle, seen.min()) - reach, max(middle, seen.max()) + reach, _MEANS)[:, None]
    scatter = (each * np.exp(np.linspace(-2.5, 4.0, _SCATTERS)))[None, :]
    prior = _student(mean, middle, spread * np.sqrt(1 - _OF_EACH)) - (np.log(scatter / each) / _SCATTER_KNOWN) ** 2 / 2

    def says(number: int) -> Array:
        """What one alone says of mean and scatter."""
        off: Array = (seen[number] - mean) / scatter
        alone: Array = -(off**2) / 2 - np.log(scatter) if number < len(came) else np.log(np.maximum(ndtr(-off), 1e-300))
        return alone

    whole = prior + sum(says(number) for number in range(len(seen)))
    told = _weights(whole)
    over = np.sqrt(scatter**2 + 2 * _BATCH**2)
    low, expected, high = (_quantile(told, mean, over, share) for share in (0.025, 0.5, 0.975))
    odd = [n for n in range(len(seen)) if _seldom(_weights(whole - says(n)), mean, over, seen[n], n >= len(came))]
    low, high = min(low, *at, high) if at else low, max(high, *at, *beyond)
    return Next(Range(low, min(max(expected, low), high), high), tuple(odd))


def _student(mean: Array, middle: float, scale: float) -> Array:
    found: Array = -(_FREEDOM + 1) / 2 * np.log1p(((mean - middle) / scale) ** 2 / _FREEDOM)
    return found


def _weights(says: Array) -> Array:
    found = np.exp(says - says.max())
    weights: Array = found / found.sum()
    return weights


def _below(told: Array, mean: Array, over: Array, at: float) -> float:
    return float((told * ndtr((at - mean) / over)).sum())


def _quantile(told: Array, mean: Array, over: Array, share: float) -> float:
    low, high = float(mean[0, 0]) - 3.0, float(mean[-1, 0]) + 3.0
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if _below(told, mean, over, middle) < share else (low, middle)
    return float(np.exp((low + high) / 2))


def _seldom(told: Array, mean: Array, over: Array, at: float, passed: bool) -> bool:
    below = _below(told, mean, over, at)
    return 1 - below < _ODD / 2 or (below < _ODD / 2 and not passed)
