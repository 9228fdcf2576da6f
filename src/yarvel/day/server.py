"""Plans beside the window, in a process of their own: one JSON request a line in, JSON answers in lines out.

The first answer is a plan at once; then come what is known of it, and better plans as they are found. A newer request
ends an older one; the process ends when its input does, so it never outlives the window.
"""

from __future__ import annotations

import json
import queue
import sys
import threading
from collections.abc import Callable, Mapping
from typing import Any

from msgspec import Struct, convert, to_builtins
from msgspec.structs import asdict, replace

from yarvel.day.checking import faults
from yarvel.day.dispatch import SETTINGS, AxisTooShortError, dispatch
from yarvel.day.documents import plan_document, plan_from, shop_document, shop_from
from yarvel.day.floor import floor
from yarvel.day.outwork import Outwork, ways_out
from yarvel.day.promise import chances, executed
from yarvel.day.shop import Hands, Schedule, Shop, late_count
from yarvel.day.standing import Seeking, Standing, UnsoundError, first_plan, hold, stand

FIRST_SECONDS, SEEKING_SECONDS = 0.4, 2.0
"""How long a first plan is made, and how long each search for another order may take where somebody becomes late."""
_TRIED_SETTINGS = 6
_LOOK_SECONDS, _FLOOR_SECONDS = 0.1, 1.0

Tell = Callable[[dict[str, Any]], None]
Stopped = Callable[[], bool]


def answer(request: dict[str, Any], tell: Tell, stopped: Stopped = lambda: False) -> None:
    """Plan ``shop``; ``spreads`` of minutes taken, by task; ``shown`` the plan that people have seen ([]: none);
    ``until`` which slot what begins is held where the plan has it; ``by_time`` where nothing has happened since;
    ``outwork`` what an outworker may be given; ``seconds`` for a better one (0: none is looked
    for); ``rounds`` where what is sought must repeat."""
    shop, shown = shop_from(request["shop"]), plan_from(request["shown"])
    try:
        standing = _standing(request, shop, shown, tell, stopped)
    except AxisTooShortError:
        tell({"kind": "problem", "text": "The work does not fit into the days that are laid out."})
        return
    except UnsoundError as error:
        tell({"kind": "unsound", "problems": error.problems, "shop": shop_document(error.shop)})
        tell({"kind": "problem", "text": f"No plan could be made that holds ({error}); it is written down."})
        return
    plan, shop = standing.plan, standing.shop
    unpinned = [to_builtins(pin) for pin in standing.unpinned]
    tell({"kind": "plan", "plan": plan_document(plan), "unpinned": unpinned, "sought": standing.sought})
    if stopped():
        return
    spreads = {int(key): float(value) for key, value in request.get("spreads", {}).items()}
    answer_known = known(shop, plan, spreads, stopped, _work(request))
    if stopped():  # what is not whole is not told
        return
    tell({"kind": "known", **answer_known})
    if not request.get("seconds"):
        tell({"kind": "done", "proved": False})
        return
    _improve(request, shop, plan, shown, tell, stopped)


def _standing(request: dict[str, Any], shop: Shop, shown: Schedule, tell: Tell, stopped: Stopped) -> Standing:
    """The plan that is shown first: what stood before, or, where nobody has seen any, the best that is made at once."""
    if not shown:
        return first_plan(shop, FIRST_SECONDS)
    rounds = request.get("rounds")
    seeking = Seeking(SEEKING_SECONDS, workers=2) if rounds is None else Seeking(rounds=int(rounds))
    return stand(
        shop,
        shown,
        int(request.get("until", 0)),
        seeking,
        lambda: tell({"kind": "working"}),
        stopped,
        bool(request.get("by_time")),
    )


def known(
    shop: Shop,
    plan: Schedule,
    spreads: Mapping[int, float],
    stopped: Stopped = lambda: False,
    work: Outwork | None = None,
) -> dict[str, Any]:
    """What is known of a plan: how sure each promise is, how many cannot be kept by anybody, what would help. Not whole
    where it was ``stopped``, which is asked about once a second."""
    proved = floor(shop, _FLOOR_SECONDS, stopped)
    return {
        "chances": _chances(shop, plan, spreads),
        "floor": proved.dockets,
        "floor_days": round(proved.days, 2),
        "ways": _ways(shop, plan, work, stopped),
        "helps": [{"skill": skill_help.skill, "late": skill_help.late} for skill_help in helps(shop, plan, stopped)],
    }


def _work(request: dict[str, Any]) -> Outwork | None:
    document = request.get("outwork")
    return None if document is None else convert(document, Outwork)


def _ways(shop: Shop, plan: Schedule, work: Outwork | None, stopped: Stopped = lambda: False) -> list[dict[str, Any]]:
    return [] if work is None else [asdict(way) for way in ways_out(shop, plan, work, stopped)]


def _chances(shop: Shop, plan: Schedule, spreads: Mapping[int, float]) -> dict[str, float]:
    sure = chances(shop, executed(shop, plan, spreads))
    return {str(key): round(value, 3) for key, value in sure.items()}


class Help(Struct, frozen=True):
    """One more pair of hands with this skill: so many dockets would still be late."""

    skill: str
    late: int


def helps(shop: Shop, plan: Schedule, stopped: Stopped = lambda: False) -> list[Help]:
    """Which skill, in one more pair of hands, would have most late dockets kept; the best first, those of no use left
    out."""
    before = late_count(shop, plan)
    if not before:
        return []
    skills = sorted({skill for hands in shop.hands for skill in hands.skills})
    before = min(before, late_count(shop, dispatch(shop, SETTINGS[:_TRIED_SETTINGS])))
    skill_helps = []
    for skill in skills:
        if stopped():
            break
        away = min((hands.away for hands in shop.hands), key=lambda spans: sum(end - begin for begin, end in spans))
        more = Hands(0, skill, frozenset({skill}), away)
        able = {place for place, hands in enumerate(shop.hands) if skill in hands.skills}
        place = len(shop.hands)
        orders = tuple(
            replace(
                order,
                steps=tuple(
                    replace(step, people=(*step.people, place))
                    if step.person is None and set(step.people) <= able
                    else step
                    for step in order.steps
                ),
            )
            for order in shop.orders
        )
        helped = replace(shop, hands=(*shop.hands, more), orders=orders)
        left = late_count(helped, dispatch(helped, SETTINGS[:_TRIED_SETTINGS]))
        if left < before:
            skill_helps.append(Help(skill, left))
    return sorted(skill_helps, key=lambda one: one.late)


def _improve(
    request: dict[str, Any], shop: Shop, plan: Schedule, shown: Schedule, tell: Tell, stopped: Stopped
) -> None:
    """Better plans as they come: at first by more settings of the dispatch, then by the solver."""
    from yarvel.day.solving import Limits, improve, judged

    if not _compiled(stopped):
        return
    held_shop = hold(shop, plan, int(request.get("until", 0))) if shown else shop
    before = plan if shown else None
    best = plan

    def better(found: Schedule) -> None:
        if not faults(held_shop, found):  # what cannot be done is no offer
            tell({"kind": "better", "plan": plan_document(found)})

    for place in range(0, len(SETTINGS), _TRIED_SETTINGS):
        if stopped():
            return
        try:
            dispatched = dispatch(held_shop, SETTINGS[place : place + _TRIED_SETTINGS], seconds=1.0)
        except AxisTooShortError:
            break
        if judged(held_shop, dispatched, before) < judged(held_shop, best, before):
            best = dispatched
            better(best)
    limits = Limits(float(request["seconds"]), workers=2)
    improved = improve(held_shop, best, before, limits, better, stopped)
    if stopped():
        return
    done: dict[str, Any] = {"kind": "done", "proved": improved.proved}
    if not shown:  # the better plan is the one that is shown: what was said of the first is not said of it
        spreads = {int(key): float(value) for key, value in request.get("spreads", {}).items()}
        done["chances"] = _chances(shop, improved.plan, spreads)
        done["ways"] = _ways(shop, improved.plan, _work(request), stopped)
    tell(done)


def _compiled(stopped: Stopped) -> bool:
    """Wait until what the search runs is compiled, which takes a while the first time on a machine; False where
    something newer is asked meanwhile."""
    from yarvel.day.turns import compiled

    work = threading.Thread(target=compiled, daemon=True)
    work.start()
    while work.is_alive():
        if stopped():
            return False
        work.join(_LOOK_SECONDS)
    return True


def main() -> None:
    """Answer requests until the input ends."""
    waiting: queue.Queue[dict[str, Any] | None] = queue.Queue()

    def listen() -> None:
        for line in sys.stdin:
            waiting.put(json.loads(line))
        waiting.put(None)

    threading.Thread(target=listen, daemon=True).start()
    while (request := waiting.get()) is not None:
        while not waiting.empty():
            newer = waiting.get()
            if newer is None:
                return
            request = newer
        number = request["id"]

        def tell(found: dict[str, Any], number: int = number) -> None:
            sys.stdout.write(json.dumps({"id": number, **found}) + "\n")
            sys.stdout.flush()

        answer(request, tell, lambda: not waiting.empty())


if __name__ == "__main__":
    main()
