"""The manual page and the completion of shells, made from the same table of commands that the program reads."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from ribpatch import __version__

if TYPE_CHECKING:
    from collections.abc import Iterator

Shell = Literal["bash", "zsh", "fish"]
SHELLS: tuple[Shell, ...] = ("bash", "zsh", "fish")
WINDOW = (
    ("--demo", "open the demo job"),
    ("--version", "say which version this is"),
    ("--help", "say what can be asked for"),
)


class Option(Struct, frozen=True):
    """An option or argument of a command: its flags (empty for an argument), what it takes, its choices, and help."""

    flags: tuple[str, ...]
    takes: str
    choices: tuple[str, ...]
    help: str


class Command(Struct, frozen=True):
    """A command with all that it takes."""

    name: str
    help: str
    options: tuple[Option, ...]


def commands_of(parser: argparse.ArgumentParser) -> tuple[Command, ...]:
    """The commands of the program."""
    (sub,) = (a for a in parser._actions if isinstance(a, argparse._SubParsersAction))
    helps = {a.dest: a.help or "" for a in sub._choices_actions}
    return tuple(Command(name, helps.get(name, ""), tuple(_options(made))) for name, made in sub.choices.items())


def _options(parser: argparse.ArgumentParser) -> Iterator[Option]:
    for action in parser._actions:
        if action.help == argparse.SUPPRESS or isinstance(action, argparse._HelpAction):
            continue
        takes = "" if action.nargs == 0 else str(action.metavar or action.dest)
        choices = tuple(map(str, action.choices)) if action.choices else ()
        yield Option(tuple(action.option_strings), takes, choices, (action.help or "").replace("%%", "%"))


# ---- the manual page ----


def man_page(parser: argparse.ArgumentParser) -> str:
    """The manual page, in the language of man."""
    parts = [
        f'.TH RIBPATCH 1 "" "Rib Patch {__version__}" "User Commands"',
        ".SH NAME\nribpatch \\- diagnose and plan composite boat repairs",
        ".SH SYNOPSIS\n.B ribpatch\n[\\fB\\-\\-demo\\fR] [\\fIJOB\\fR ...]\n.br\n.B ribpatch\n\\fICOMMAND\\fR ...",
        ".SH DESCRIPTION\nWithout a command the window opens, with the jobs named, each in a window of its own. The "
        "commands need no display. Jobs are read and written whole; no command writes over what it read.",
        ".SH OPTIONS",
        *(f".TP\n.B {_man(flag)}\n{_man(words)}." for flag, words in WINDOW),
        ".SH COMMANDS",
    ]
    for command in commands_of(parser):
        parts.append(f".TP\n.B {_man(command.name)} {_synopsis(command)}\n{_man(command.help)}.")
        parts += [f".RS\n.TP\n{_flags(o)}\n{_man(_words(o))}\n.RE" for o in command.options if o.help]
    parts += [
        ".SH EXIT STATUS\n0 where it is done, 1 where the input is wrong (a line for each fault on the error output), "
        "2 where it was asked for wrongly.",
        ".SH ENVIRONMENT\n.TP\n.B LANG, LC_NUMERIC, LC_MONETARY, LC_TIME\nHow the window writes numbers, money and "
        "days. Commands and files are plain: a decimal point, days as 2026\\-12\\-24.\n.TP\n.B XDG_CONFIG_HOME, "
        "XDG_DATA_HOME, XDG_STATE_HOME\nWhere settings, own materials and copies for recovery are kept.",
        ".SH FILES\n.TP\n.I *.ribpatch\nA job: a zip of job.json with a published schema (\\fBribpatch schema\\fR), "
        "photographs and recordings.",
    ]
    return "\n".join(parts) + "\n"


def _man(text: str) -> str:
    text = text.replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{text}" if text.startswith((".", "'")) else text


def _synopsis(command: Command) -> str:
    return " ".join(f"\\fI{_man(o.takes)}\\fR" if not o.flags else f"[{_flags(o)}]" for o in command.options)


def _flags(option: Option) -> str:
    takes = f" \\fI{_man('|'.join(option.choices) or option.takes)}\\fR" if option.takes else ""
    return ", ".join(f"\\fB{_man(f)}\\fR" for f in option.flags) + takes if option.flags else takes.strip()


def _words(option: Option) -> str:
    return option.help[:1].upper() + option.help[1:]


# ---- completion ----


def completion(parser: argparse.ArgumentParser, shell: Shell) -> str:
    """A completion script."""
    return {"bash": _bash, "zsh": _zsh, "fish": _fish}[shell](commands_of(parser))


def _names(commands: tuple[Command, ...]) -> str:
    return " ".join(c.name for c in commands)


def _bash(commands: tuple[Command, ...]) -> str:
    cases = []
    for command in commands:
        flags = " ".join(f for o in command.options for f in o.flags)
        chosen = "".join(
            f'        {"|".join(o.flags)}) COMPREPLY=($(compgen -W "{" ".join(o.choices)}" -- "$word")); return;;\n'
            for o in command.options
            if o.flags and o.choices
        )
        words = " ".join(w for o in command.options if not o.flags for w in o.choices)
        cases.append(
            f'    {command.name})\n      case "$before" in\n{chosen}        *) ;;\n      esac\n'
            f'      COMPREPLY=($(compgen -W "{flags} {words}" -- "$word"));;\n'
        )
    return (
        "# Completion of ribpatch for bash.\n_ribpatch() {\n"
        '  local word="${COMP_WORDS[COMP_CWORD]}" before="${COMP_WORDS[COMP_CWORD-1]}"\n  COMPREPLY=()\n'
        '  if [ "$COMP_CWORD" -eq 1 ]; then\n'
        f'    COMPREPLY=($(compgen -W "{_names(commands)} {" ".join(f for f, _ in WINDOW)}" -- "$word"))\n    return\n'
        '  fi\n  case "${COMP_WORDS[1]}" in\n' + "".join(cases) + "  esac\n}\n"
        "complete -o default -F _ribpatch ribpatch\n"
    )


def _quoted(text: str) -> str:
    return text.replace("'", "'\\''")


def _zsh(commands: tuple[Command, ...]) -> str:
    told = "\n".join(f"    '{c.name}:{_quoted(c.help).replace(':', ' ')}'" for c in commands)
    cases = []
    for command in commands:
        rows = []
        for o in command.options:
            takes = f":{o.takes}:" + (f"({' '.join(o.choices)})" if o.choices else "_files") if o.takes else ""
            told_of = _quoted(o.help).replace("[", "(").replace("]", ")").replace(":", " ")
            rows += [f"'{flag}[{told_of}]{takes}'" for flag in o.flags] if o.flags else [f"'*{takes}'"]
        cases.append(f"    {command.name}) _arguments {' '.join(dict.fromkeys(rows))};;")
    return (
        "#compdef ribpatch\n# Completion of ribpatch for zsh.\nlocal -a commands\ncommands=(\n" + told + "\n)\n"
        "if (( CURRENT == 2 )); then\n  _describe command commands\n  _files -g '*.ribpatch'\nelse\n"
        '  local command="${words[2]}"\n  shift words\n  (( CURRENT-- ))\n  case "$command" in\n'
        + "\n".join(cases)
        + "\n    *) _files;;\n  esac\nfi\n"
    )


def _fish(commands: tuple[Command, ...]) -> str:
    rows = ["# Completion of ribpatch for fish."]
    for command in commands:
        first = "__fish_use_subcommand"
        rows.append(f"complete -c ribpatch -n {first} -a {command.name} -d '{_quoted(command.help)}'")
        here = f"'__fish_seen_subcommand_from {command.name}'"
        for o in command.options:
            for flag in o.flags:
                kind = f"-l {flag[2:]}" if flag.startswith("--") else f"-s {flag[1:]}"
                takes = f" -x -a '{' '.join(o.choices)}'" if o.choices else " -r" if o.takes else ""
                rows.append(f"complete -c ribpatch -n {here} {kind}{takes} -d '{_quoted(o.help)}'")
    rows += [f"complete -c ribpatch -n __fish_use_subcommand -l {f[2:]} -d '{_quoted(words)}'" for f, words in WINDOW]
    return "\n".join(rows) + "\n"
