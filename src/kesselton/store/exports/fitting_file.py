"""The procedure of fitting a head as Markdown."""

from __future__ import annotations

from kesselton.core.escape import in_markdown
from kesselton.core.fit.fitting import Fitting
from kesselton.core.fit.procedure import Procedure, Step
from kesselton.core.language import _


def markdown(procedure: Procedure, title: str, fitting: Fitting | None = None) -> str:
    """The whole procedure with tick boxes, as Markdown."""
    done = set(fitting.done) if fitting else set()
    notes = dict(fitting.notes) if fitting else {}
    skipped = dict(fitting.skipped) if fitting else {}
    lines = [f"# {in_markdown(title)}", ""]
    for name, things in ((_("Tools"), procedure.tools), (_("Materials"), procedure.materials)):
        if things:
            lines += [f"**{name}:** {', '.join(things)}", ""]
    for number, step in enumerate(procedure.steps, start=1):
        mark = "x" if step.key in done else " "
        end = "" if step.title.endswith("?") else "."
        lines.append(f"- [{mark}] **{number} {step.title}{end}** {step.text}")
        lines += [f"  - {text}" for text in (*step_extras(step), *step_cautions(step))]
        if step.key in skipped:
            lines.append(
                _("  - Skipped: {in_markdown}").format(in_markdown=in_markdown(skipped[step.key]))
            )
        if step.key in notes:
            lines.append(
                _("  - Reading: {in_markdown}").format(in_markdown=in_markdown(notes[step.key]))
            )
    return "\n".join(lines) + "\n"


def step_extras(step: Step) -> list[str]:
    """Order, question and timer of a step, a line each."""
    out = []
    if step.order:
        order = " ".join(str(rod) for rod in step.order)
        out.append(_("Order: {rods}").format(rods=order))
    if step.ask is not None:
        out.append(
            _("{question} If not: {otherwise}").format(
                question=step.ask.question, otherwise=step.ask.otherwise
            )
            if step.ask.good == "yes"
            else _("{question} If so: {otherwise}").format(
                question=step.ask.question, otherwise=step.ask.otherwise
            )
        )
    if step.timer_minutes > 0.0:
        out.append(_("Time: {minutes_text}").format(minutes_text=minutes_text(step.timer_minutes)))
    return out


def step_cautions(step: Step) -> list[str]:
    """A line for each."""
    return [_("Caution: {caution}").format(caution=caution) for caution in step.cautions]


def minutes_text(minutes: float) -> str:
    """A time in the unit one thinks in."""
    if abs(minutes) >= 2880:
        return _("{minutes:.1f} days").format(minutes=minutes / 1440)
    if abs(minutes) >= 120:
        return _("{hours:.1f} h").format(hours=minutes / 60)
    return _("{minutes:.0f} min").format(minutes=minutes)
