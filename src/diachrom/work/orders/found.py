"""What the search found, as a schedule that is kept and shown."""

from collections.abc import Sequence

from diachrom.core.schedule.search import Found
from diachrom.core.schedule.work import Piece
from diachrom.words import say
from diachrom.work.kit.schedules import Schedule, ScheduledBlock
from diachrom.work.orders.todo import ToDo


def schedule_of(wanted: ToDo, found: Found) -> Schedule:
    """What was found, to be kept."""
    work, made = wanted.work, found.timed
    groups: list[list[Piece]] = []
    for piece in made.pieces:
        last = groups[-1][-1] if groups else None
        if last is not None and (last.block, last.what, last.end) == (piece.block, piece.what, piece.start):
            groups[-1].append(piece)
        else:
            groups.append([piece])
    missed = [say("bait {bait} of {words}", bait=bait + 1, words=work.lines[line].words) for line, bait in made.missed]
    return Schedule(
        start=wanted.start,
        ends=made.ends,
        hands_end=made.hands_end,
        bound=found.bound,
        proven=found.proven,
        cleaning=made.cleaning,
        visits=[_visit(wanted, group) for group in groups],
        sequence=[(block.key(work), block.first, block.last) for block in made.sequence],
        mixes={key: (cup.words, cup.fill) for key, cup in wanted.cups.items()},
        lines={int(line.key): (line.words, line.baits) for line in work.lines},
        inputs=wanted.inputs,
        missed=missed,
        notes=wanted.notes,
    )


def _visit(wanted: ToDo, group: Sequence[Piece]) -> ScheduledBlock:
    work, first = wanted.work, group[0]
    block, start, end = first.block, first.start, group[-1].end
    key = block.key(work)
    if block.line < 0:
        words = wanted.cups[block.mix].words
        return ScheduledBlock(
            key, first.what, start, end, words=words, kind="mix", mix=block.mix, dries=work.mixes[block.mix].rests
        )
    line = work.lines[block.line]
    step = line.steps[block.step]
    if first.what == "clean":
        how = "clean" if end - start > wanted.rinse_min else "rinse"
        return ScheduledBlock(key, "clean", start, end, words=wanted.cups[step.mix].words, kind=how, mix=step.mix)
    return ScheduledBlock(
        block=key,
        what=first.what,
        start=start,
        end=end,
        line=int(line.key),
        step=step.key,
        words=step.words,
        kind=step.kind,
        mix=step.mix,
        first=first.bait,
        last=group[-1].bait + 1,
        dries=step.dries,
        closes=step.closes,
        holds=step.holds,
        held=step.held,
        layer=step.layer,
        paint=step.paint,
    )
