"""The plan of the day: who does what when, what will be late, and what may be promised.

``axis`` opening hours end to end; ``shop`` hands, stations and dockets as steps; ``dispatch`` a plan at once;
``mending`` the plan that was shown, moved only where it must; ``turns`` whole dockets one after the other;
``solving`` a better one, in a process of its own;
``floor`` what nobody could keep; ``promise`` a date and its chance; ``checking`` holds every plan and knows none of
these; ``snapshot`` what the store says, ``reading`` a shop made of it, and a plan as the board shows it.
"""
