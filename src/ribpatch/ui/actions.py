"""Every action in one table: menus, tooltips and the key sheet come from it."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from ribpatch.stages import STAGES

Needs = Literal["nothing", "job", "zone", "undo", "redo"]


class ActionSpec(Struct, frozen=True):
    """An action: id (the window's method), menu, text, key, when it is enabled."""

    id: str
    menu: str
    text: str
    key: str
    needs: Needs = "nothing"
    tip: str = ""


ACTIONS: tuple[ActionSpec, ...] = (
    ActionSpec("new_job", "Job", "&New job", "Ctrl+N"),
    ActionSpec("open_job", "Job", "&Open…", "Ctrl+O"),
    ActionSpec("new_window", "Job", "Another &window", "Ctrl+Shift+W", "nothing", "For another job beside this one"),
    ActionSpec("start", "Job", "S&tart page", "Ctrl+Home"),
    ActionSpec("demo_job", "Job", "&Demo job", ""),
    ActionSpec("save", "Job", "&Save", "Ctrl+S", "job"),
    ActionSpec("save_as", "Job", "Save &as…", "Ctrl+Shift+S", "job"),
    ActionSpec("practice", "Job", "P&ractice panel", "Ctrl+Shift+R"),
    ActionSpec("survey_report", "Papers", "Survey &report PDF…", "Ctrl+R", "job"),
    ActionSpec("findings_sheet", "Papers", "&Findings sheet of this zone…", "", "zone"),
    ActionSpec("print_paper", "Papers", "&Print…", "Ctrl+P", "job", "Look at any paper page by page, and print it"),
    ActionSpec("work_pack", "Papers", "&Work pack PDF…", "Ctrl+K", "job"),
    ActionSpec("shopping_list", "Papers", "S&hopping list…", "Ctrl+Shift+P", "job", "As CSV, XLSX or PDF"),
    ActionSpec("labels", "Papers", "&Labels for the pieces…", "", "job", "For every piece of cloth and core"),
    ActionSpec("cut_plan", "Papers", "&Cut plan of the cloth…", "", "job", "As SVG, DXF, PDF or PNG to scale"),
    ActionSpec("cut_core", "Papers", "Cut pla&n of the core…", "", "job", "As SVG, DXF, PDF or PNG to scale"),
    ActionSpec(
        "day_sheet", "Papers", "A &day's sheet…", "", "job", "Steps, cups, cautions and what to lay out, as PDF"
    ),
    ActionSpec("export_ics", "Papers", "Calendar file of the da&ys…", "", "job", "Every stretch of work, as ICS"),
    ActionSpec(
        "hand_over", "Papers", "Hand-&over report…", "", "job", "What was found and done, for who comes next, as PDF"
    ),
    ActionSpec("coupon_sheet", "Papers", "Sheet for &bond coupons…", "", "job", "To write on at the bench, as PDF"),
    ActionSpec("export_log", "Papers", "Lo&g as CSV…", "", "job", "Every entry, corrections beside what they correct"),
    ActionSpec("templates", "Papers", "Ply te&mplates of this zone, full size…", "Ctrl+Shift+T", "zone"),
    ActionSpec(
        "set_off_sheet", "Papers", "&Set-off sheet to draw on…", "", "zone", "It reads back from a picture, as PDF"
    ),
    ActionSpec("export_plan", "Papers", "&Export the plan…", "", "zone", "As SVG, DXF, PDF or PNG to scale"),
    ActionSpec("export_section", "Papers", "Export the cut-&through…", "", "zone", "As SVG, DXF, PDF or PNG to scale"),
    ActionSpec("quit", "Job", "&Quit", "Ctrl+Q"),
    ActionSpec("undo", "Edit", "&Undo", "Ctrl+Z", "undo"),
    ActionSpec("redo", "Edit", "&Redo", "Ctrl+Shift+Z", "redo"),
    ActionSpec(
        "copy",
        "Edit",
        "Cop&y",
        "Ctrl+C",
        "nothing",
        "The figure, table or drawing that has the keys, to paste elsewhere",
    ),
    ActionSpec("import_readings", "Edit", "&Import readings…", "Ctrl+I", "zone"),
    ActionSpec("export_readings", "Edit", "&Export readings…", "Ctrl+E", "zone"),
    ActionSpec("open_recording", "Edit", "Open a re&cording of taps…", "Ctrl+T", "zone"),
    ActionSpec("add_photographs", "Edit", "Add &photographs…", "Ctrl+Shift+I", "zone"),
    ActionSpec(
        "draw_shape",
        "Edit",
        "Dra&w a shape",
        "Ctrl+Shift+L",
        "zone",
        "The outline in Boat, damage in Find, the cut line in Open: by clicks, or typed lengths and turns",
    ),
    ActionSpec(
        "straighten",
        "Edit",
        "Set a photograph &straight…",
        "Ctrl+Shift+G",
        "zone",
        "Take perspective and lens out of it, and lay it under the plan to trace on",
    ),
    ActionSpec(
        "outline_file",
        "Edit",
        "&Outline from a file…",
        "Ctrl+Shift+E",
        "zone",
        "SVG or DXF, or a picture of a set-off sheet",
    ),
    ActionSpec("add_zone", "Edit", "&Add a zone", "Ctrl+Shift+N", "job"),
    ActionSpec(
        "draft",
        "Edit",
        "&Draft the repair",
        "Ctrl+Shift+D",
        "zone",
        "A first scheme from readings and cause; pressed again, alternatives beside it",
    ),
    ActionSpec("way", "Edit", "W&hat is next for a first plan", "Ctrl+Return", "job"),
    ActionSpec("next_zone", "View", "&Next zone", "Ctrl+Tab", "zone"),
    ActionSpec("next_page", "View", "Next &picture below", "Ctrl+PgDown", "zone"),
    ActionSpec(
        "turn", "View", "Plan, pa&ge or choices", "Ctrl+J", "job", "Pass the keys on; where one is shown, the next"
    ),
    ActionSpec("whole_page", "View", "Page below over the whole &bench", "Ctrl+Shift+PgDown", "zone"),
    ActionSpec("units", "View", "Metric or &US units", "Ctrl+U"),
    ActionSpec("fractions", "View", "Inches: 1/1&6, 1/32 or decimal", "Ctrl+Shift+U", "nothing"),
    ActionSpec("theme", "View", "&Light or dark", "Ctrl+D"),
    ActionSpec(
        "shed", "View", "&Shed mode", "Ctrl+Shift+H", "nothing", "Everything larger, high contrast, large targets"
    ),
    ActionSpec("text_larger", "View", "Te&xt larger", "Ctrl++"),
    ActionSpec("text_smaller", "View", "Text s&maller", "Ctrl+-"),
    ActionSpec("text_usual", "View", "&Text as usual", "Ctrl+Alt+0"),
    ActionSpec("cards", "View", "Fold or unfold all &cards", "Ctrl+Shift+F", "job"),
    ActionSpec("fit", "View", "&Whole drawing", "Ctrl+0", "zone"),
    ActionSpec("find_figure", "View", "Find a &figure…", "Ctrl+F", "job"),
    ActionSpec("manual", "Help", "&Manual: this rung", "F1", "nothing", "What this rung is for, and how it is worked"),
    ActionSpec("keys", "Help", "&Keys", "Shift+F1"),
    ActionSpec("glossary", "Help", "&Glossary", "", "nothing", "The words of the trade"),
    ActionSpec("about", "Help", "&About Rib Patch", ""),
)

ON_THE_PLAN: tuple[tuple[str, str], ...] = (
    ("Arrows", "move over the grid"),
    ("R F D M C", "tap: ring, flat, dull, drummy, crunch; other letters stand on their buttons"),
    ("number, Enter", "reading of the meter chosen"),
    ("S", "mark or unmark as sound reference"),
    ("N", "go to the next place worth testing"),
    ("Backspace", "take the last entry back"),
    ("Delete", "delete the reading, or the corner touched"),
    (
        "Space, Shift+Space",
        "take hold of the next corner, end of the section line or stiffener; arrows move it, Esc lets go",
    ),
    ("Insert", "add a corner after the one held"),
    ("Space while a line is drawn", "put a point of a test cut or sketch at the cross of the arrows; Enter ends it"),
    ("wheel, Page Up, Page Down, + and -", "zoom"),
    ("middle drag, Ctrl+arrows, Home", "pan, whole drawing"),
    (
        "drag a square or a side",
        "move it; it catches on fittings, edges and round sizes (Alt: free); double-click a side adds a corner",
    ),
    ("drag A", "move the section line; Shift-drag the line moves it whole"),
    ("F2 or click on a figure", "show the working"),
    ("Enter on a row of a table", "take it: a stack, a core, a ratio, a scheme"),
    (f"{STAGES[0].key} to {STAGES[-2].key}, {STAGES[-1].key}, Alt+letter", "stages"),
    ("Ctrl+1 to Ctrl+9", "zones"),
    ("Ctrl+L", "ledger: zone or whole job"),
    ("Ctrl+C", "copy the figure, table or drawing that has the keys"),
    ("Esc", "close a sheet; put a half-typed value back; from the choices back to the plan"),
)


def key_sheet() -> str:
    """All keys as rich text."""
    from html import escape  # names every character there is: only help asks for it

    rows = [(a.key, a.text.replace("&", "")) for a in ACTIONS if a.key] + list(ON_THE_PLAN)
    cells = "".join(f"<tr><td><b>{escape(k)}</b></td><td>&nbsp; {escape(t)}</td></tr>" for k, t in rows)
    return (
        "<p>Work from top to bottom of the ladder: describe boat and zone, read the zone, open it on paper, rebuild "
        "it, order for it, plan its days. "
        f"Any figure shows its working.</p><table cellpadding='2'>{cells}</table>"
    )
