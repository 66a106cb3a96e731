"""How numbers and money are written and read in the user's region, and in which order days; in files always plain.

The window says once, at its start, how its region writes them. Whatever puts a number into words asks here. A sign of
money belongs to the job, or to the user where the job states none.
"""

from __future__ import annotations

import re
from contextlib import contextmanager
from contextvars import ContextVar
from typing import TYPE_CHECKING, Literal

from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Iterator

DateOrder = Literal["ymd", "dmy", "mdy"]
SPACES = "\u00a0\u202f\u2009"  # that separate groups: no-break, narrow no-break, thin
MINUS = "−"


class Numerals(Struct, frozen=True):
    """Decimal sign, sign between groups of three (empty: none), least digits that are grouped, where the sign of money
    stands (``{}`` for the number, ``¤`` for the sign), and the order of day, month and year.
    """

    decimal: str = "."
    group: str = ""
    least_grouped: int = 4
    money: str = "¤{}"
    dates: DateOrder = "ymd"
    between: str = "-"  # of day, month and year


PLAIN = Numerals()
_DECIMAL = re.compile(r"(?<![\d.,:])(\d+)\.(\d+)(?![\d:]|\.\d)")
_now = {"numerals": PLAIN}
_money = {"sign": ""}
_PLAINLY: ContextVar[bool] = ContextVar("plainly", default=False)


def use_numerals(numerals: Numerals) -> None:
    """Write and read as a region does, from now on."""
    _now["numerals"] = numerals


def use_money(sign: str) -> None:
    """The sign that prices are shown with, from now on."""
    _money["sign"] = sign


def _written_as() -> Numerals:
    return PLAIN if _PLAINLY.get() else _now["numerals"]


def writing() -> tuple[Numerals, str]:
    """How this thread writes numbers and money at the moment: what was put in words is only good for that."""
    return _written_as(), _money["sign"]


def region_is_plain() -> bool:
    """Whether the region writes as files do."""
    return _now["numerals"] is PLAIN


@contextmanager
def plainly() -> Iterator[None]:
    """Write and read as files do, for a while and in this thread: the window goes on as its region writes."""
    before = _PLAINLY.set(True)
    try:
        yield
    finally:
        _PLAINLY.reset(before)


# ---- numbers ----

MOST_DIGITS = 15  # before the decimal sign: nobody counts more


def written(plain: str, grouped: bool = True) -> str:
    """A number in Python's way of writing, as the region writes it, with a true minus sign. Numbers that stand beside
    each other, as of a place, are not grouped: a comma parts them.
    """
    now = _written_as()
    if len(plain.partition(".")[0].lstrip("-")) > MOST_DIGITS:
        plain = f"{float(plain):.6g}"
    text = plain.replace("-", MINUS)
    if now is PLAIN or "e" in text or not any(c.isdigit() for c in text):
        return text
    whole, dot, rest = text.partition(".")
    sign, digits = (MINUS, whole[1:]) if whole.startswith(MINUS) else ("", whole)
    if grouped and now.group and len(digits) >= now.least_grouped and digits.isdigit():
        digits = f"{int(digits):,}".replace(",", now.group)
    return f"{sign}{digits}{now.decimal if dot else ''}{rest}"


def in_words(text: str) -> str:
    """Words with numbers in Python's way of writing, with the region's decimal sign; moments, versions and what is
    listed with dots stay.
    """
    sign = _written_as().decimal
    return text if sign == "." else _DECIMAL.sub(rf"\1{sign}\2", text)


def fixed(value: float, decimals: int, grouped: bool = True) -> str:
    """A number with so many decimals."""
    return written(f"{value:.{decimals}f}", grouped)


def general(value: float, figures: int = 6) -> str:
    """A number with as many figures as it needs, ``figures`` at most."""
    return written(f"{value:.{figures}g}")


def read_plain(text: str) -> str:
    """Typed text with its numbers in Python's way of writing; what is no number stays. Raises ValueError where a comma
    may be a decimal or part of a thousand.
    """
    now = _written_as()
    if now.group:
        signs = SPACES + " ’'" if now.group in SPACES + "’'" else now.group
        text = re.sub(rf"(?<![\d.,])[1-9]\d{{0,2}}(?:[{re.escape(signs)}]\d{{3}})+(?![\d/])", _ungrouped, text)
    elif now.decimal == "." and re.search(r"\d,\d{3}(?!\d)", text) and not re.search(r"(^|\D)0,\d", text):
        raise ValueError("a comma before three digits may be a decimal or a thousand")
    return re.sub(r"(\d),(\d)", r"\1.\2", text)


def _ungrouped(found: re.Match[str]) -> str:
    return re.sub(r"\D", "", found[0])


def money(number: str) -> str:
    """A written amount with the sign of money, where there is one."""
    sign = _money["sign"]
    if not sign:
        return number
    made = _written_as().money
    if len(sign) > 2:  # letters, as of a bank's code, do not stand against figures
        made = made.replace("¤{", "¤\u00a0{").replace("}¤", "}\u00a0¤")
    return made.replace("¤", sign).replace("{}", number)


def money_sign() -> str:
    """The sign of money, or nothing."""
    return _money["sign"]


def joint() -> str:
    """What stands between two numbers beside each other: no comma where that is the decimal sign."""
    return "; " if _written_as().decimal == "," else ", "


def comma_parts() -> str:
    """The pattern of what parts typed numbers of a line: a comma too, unless it is a decimal sign between figures."""
    return r"\t|;|,(?!\d)|(?<!\d),| {2,}" if _written_as().decimal == "," else r"\t|;|,| {2,}"


def without_zeros(number: str) -> str:
    """A written number without zeros at the end of its decimals."""
    sign = _written_as().decimal
    return number.rstrip("0").rstrip(sign) if sign in number else number


# ---- days ----


def day_order() -> tuple[DateOrder, str]:
    """In which order day, month and year stand, and what between them."""
    now = _written_as()
    return now.dates, now.between
