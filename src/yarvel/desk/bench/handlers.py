"""What each action of the bench window does, by its name in the table of actions."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from yarvel.desk.bench.window import BenchWindow
from yarvel.desk.instruments.dialog import InstrumentsDialog

HANDLERS: Mapping[str, Callable[[BenchWindow], object]] = {
    "new": lambda window: window.take_in(),
    "find": lambda window: window.finding.open(),
    "print": lambda window: window.papers.print_sheet(),
    "pdf": lambda window: window.papers.write_pdf(),
    "print-small": lambda window: window.papers.print_small(),
    "all-sheets": lambda window: window.papers.print_all(),
    "receipt": lambda window: window.money.receipt(),
    "estimate": lambda window: window.money.estimate(),
    "invoice": lambda window: window.money.invoice(),
    "board": lambda window: window.board.open(),
    "tasks": lambda window: window.board.plan_tasks(),
    "fine": lambda window: window.board.open_fine_book(),
    "customers": lambda window: window.customers.open(),
    "reports": lambda window: window.board.open_reports(),
    "repair": lambda window: window.intake.open_repair(),
    "templates": lambda window: window.papers.templates(),
    "lots": lambda window: window.lots.open(),
    "drawer": lambda window: window.drawer.open(),
    "solid": lambda window: window.papers.write_solid(),
    "drawing": lambda window: window.papers.write_drawing(),
    "bring-in": lambda window: window.papers.bring_in(),
    "export": lambda window: window.papers.export(),
    "archive": lambda window: window.intake.write_archive(),
    "bring-archive": lambda window: window.intake.bring_in_archive(),
    "aside": lambda window: window.intake.put_aside(),
    "copy-job": lambda window: window.papers.copy_job(),
    "rules": lambda window: window.house.edit_rules(),
    "alloys": lambda window: window.house.edit_alloys(),
    "species": lambda window: window.house.edit_species(),
    "letterhead": lambda window: window.money.letterhead(),
    "instruments": lambda window: InstrumentsDialog(window.instruments, window).exec(),
    "elsewhere": lambda window: window.papers.save_store_elsewhere(),
    "drafts": lambda window: window.drafts.show(),
    "people": lambda window: window.people.show_people(),
    "sign-in": lambda window: window.people.sign_in(),
    "sign-out": lambda window: window.people.sign_out(),
    "quit": lambda window: window.close(),
    "undo": lambda window: window.undo(),
    "redo": lambda window: window.redo(),
    "remedy": lambda window: window.take_first_remedy(),
    "copy": lambda window: window.working.copy(),
    "pane": lambda window: window.pane_round.go_on(),
    "ring": lambda window: window.switch_sheet(),
    "turning": lambda window: window.turning.toggle(),
    "theme": lambda window: window.switch_theme(),
    "shortcuts": lambda window: window.show_shortcuts(),
}
