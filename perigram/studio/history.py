"""Which states of a design are kept for going back to, and which of them are shown."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

#: All states of the last hour are kept, then one an hour for so long, then one a day.
_ALL, _HOURLY = timedelta(hours=1), timedelta(days=2)


@dataclass(frozen=True)
class State:
    """A saved state: when it was saved, and whether it is kept whatever its age."""

    id: int
    created: datetime
    held: bool = False


def kept(states: Iterable[State], now: datetime) -> list[State]:
    """States worth keeping, newest first: all of the last hour, the last of each hour for two days, the last
    of each day before that; the newest, and those that are held, always.
    """
    return _last_of_each(states, lambda state: _span(state, now))


def shown(states: Iterable[State], now: datetime) -> list[State]:
    """Of those, the ones a person tells apart: of the last hour the last of each minute."""

    def span(state: State) -> Hashable:
        if now - state.created <= _ALL:
            return state.created.replace(second=0, microsecond=0)
        return _span(state, now)

    return _last_of_each(states, span)


def _span(state: State, now: datetime) -> Hashable:
    age = now - state.created
    if age <= _ALL:
        return state.id
    return state.created.strftime("%Y-%m-%d %H" if age <= _HOURLY else "%Y-%m-%d")


def _last_of_each(states: Iterable[State], span: Callable[[State], Hashable]) -> list[State]:
    newest_first = sorted(states, key=lambda state: state.id, reverse=True)
    found: list[State] = []
    seen: set[Hashable] = set()
    for state in newest_first:
        if state.held or not found or span(state) not in seen:
            found.append(state)
        if not state.held:
            seen.add(span(state))
    return found
