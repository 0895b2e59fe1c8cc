"""Foreign designs on sheets, packed, parted and marked, in every format: all there, all sound."""

from __future__ import annotations

import pytest

from .sheet_trial import sheets_tried

_EACH = 5


@pytest.mark.parametrize("first", range(200_000, 200_025, _EACH))
def test_sheets_keep_their_promises(first: int) -> None:
    for seed in range(first, first + _EACH):
        trial = sheets_tried(seed, quick=True)
        assert not trial.wrong, trial.body["name"]
