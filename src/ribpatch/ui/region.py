"""How the user's region writes numbers, money and days, as the system says."""

from __future__ import annotations

import re

from PySide6.QtCore import QLocale

from ribpatch.core.numerals import PLAIN, SPACES, DateOrder, Numerals

ORDERS: dict[str, DateOrder] = {"ymd": "ymd", "dmy": "dmy", "mdy": "mdy"}


def numerals_of(locale: QLocale) -> Numerals:
    """The numerals of a locale; those of files where it has none of its own."""
    if locale.language() == QLocale.Language.C:
        return PLAIN
    group = "\u00a0" if locale.groupSeparator() in SPACES else locale.groupSeparator()
    sizes = range(4, 7)
    least = next((n for n in sizes if group and locale.groupSeparator() in locale.toString(10 ** (n - 1))), 0)
    order, between = _dates(locale.dateFormat(QLocale.FormatType.ShortFormat))
    return Numerals(
        decimal=locale.decimalPoint(),
        group=group if least else "",
        least_grouped=least or 4,
        money=_money(locale),
        dates=order,
        between=between,
    )


def _money(locale: QLocale) -> str:
    """Where the sign of money stands."""
    sample = locale.toCurrencyString(1.0, "¤", 0)
    return re.sub(rf"{re.escape(locale.zeroDigit())}?[^\s¤]+", "{}", sample, count=1) if "¤" in sample else "¤{}"


def _dates(short: str) -> tuple[DateOrder, str]:
    """The order of day, month and year in a short date, and what stands between them."""
    letters = "".join(dict.fromkeys(c for c in short.lower() if c in "ymd"))
    between = next((c for c in short if c in "./-"), "-")
    return (ORDERS[letters], between) if letters in ORDERS else ("ymd", "-")


def usual_currency(locale: QLocale) -> str:
    """The sign of the money of a region, or nothing."""
    return (
        ""
        if locale.language() == QLocale.Language.C
        else (locale.currencySymbol() or locale.currencySymbol(QLocale.CurrencySymbolFormat.CurrencyIsoCode))
    )
