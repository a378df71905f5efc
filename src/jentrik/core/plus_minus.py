"""What ± means everywhere: two standard deviations, inside which 95 of 100 lie.

A spread that few readings show is known badly itself: Student's t takes the place of the two.
Source: Student, "The probable error of a mean", Biometrika 6 (1908); `scipy` has the quantile.
"""

from functools import lru_cache

TWO = 2.0
_UPPER = 0.975  # a twentieth left out, half of it at either end


@lru_cache
def deviations(freedom: int) -> float:
    """Return how many standard deviations hold 95 of 100 where so many readings are free; never
    fewer than two.
    """
    # SciPy takes a third of a second to load, and most readings stand alone.
    from scipy.special import stdtrit  # noqa: PLC0415

    return max(TWO, float(stdtrit(freedom, _UPPER)))
