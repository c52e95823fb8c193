"""The bench: where the work stands, the sitting and its clock, the log, what dries, the preparation, the end."""

from __future__ import annotations

from tidy_tinder.services.bench.clock import alive, begin_sitting, end_sitting, give_back, pause
from tidy_tinder.services.bench.drying import begin_drying, say_of_drying
from tidy_tinder.services.bench.ending import as_done, keep_as_done
from tidy_tinder.services.bench.log import correct_entry, pencil_called, remove_entry, untick, whole_log, write_log
from tidy_tinder.services.bench.place import go_back, go_on, work_at
from tidy_tinder.services.bench.preparation import add_own_task, remove_own_task, tick
from tidy_tinder.services.bench.view import bench, bench_version, look_at_step
from tidy_tinder.web.bench.log_schemas import (
    EntriesIn,
    EntryEditIn,
    EntryOut,
    EntryPath,
    LogOut,
    PencilCalledOut,
    PencilCalledQuery,
    UntickIn,
)
from tidy_tinder.web.bench.schemas import (
    AsDoneIn,
    AsDoneOut,
    BenchOut,
    ClockOut,
    DryIn,
    DryingPath,
    LookedStepOut,
    OwnTaskIn,
    OwnTaskPath,
    PlaceIn,
    PreparationTickIn,
    PulseOut,
    StepAtBenchOut,
    StepIn,
    StepLookQuery,
    WetIn,
)
from tidy_tinder.web.drawings.schemas import DrawingPath
from tidy_tinder.web.endpoint import blueprint, collection_here
from tidy_tinder.web.shared.changes import AddedOut, MadeOut, change_out, made_out
from tidy_tinder.web.shared.drawn import ColourOut

api = blueprint("bench")


@api.get("/drawings/<int:drawing_id>/bench", responses={"200": BenchOut})
def get_bench(path: DrawingPath) -> BenchOut:
    """All of it as it is now."""
    return BenchOut.model_validate(bench(collection_here(), path.drawing_id))


@api.get("/drawings/<int:drawing_id>/bench/pulse", responses={"200": PulseOut})
def get_pulse(path: DrawingPath) -> PulseOut:
    """Whether anything changed since, and the clock: asked for every second or two."""
    version, clock = bench_version(collection_here(), path.drawing_id)
    return PulseOut(version=version, clock=ClockOut.model_validate(clock) if clock else None)


@api.get("/drawings/<int:drawing_id>/bench/step", responses={"200": LookedStepOut})
def get_step(path: DrawingPath, query: StepLookQuery) -> LookedStepOut:
    """Look at another step without leaving the one at hand."""
    step = look_at_step(collection_here(), path.drawing_id, query.step)
    return LookedStepOut(step=StepAtBenchOut.model_validate(step) if step else None)


@api.put("/drawings/<int:drawing_id>/bench/place", responses={"200": MadeOut})
def put_place(path: DrawingPath, body: PlaceIn) -> MadeOut:
    """Work along this recipe, at this step, in this section from now on."""
    work_at(collection_here(), path.drawing_id, body.said())
    return made_out(None)


@api.post("/drawings/<int:drawing_id>/bench/on", responses={"200": MadeOut})
def post_on(path: DrawingPath, body: StepIn) -> MadeOut:
    """The step is done, or skipped; on to the next."""
    return made_out(go_on(collection_here(), path.drawing_id, body.step_id, body.state))


@api.post("/drawings/<int:drawing_id>/bench/back", responses={"200": MadeOut})
def post_back(path: DrawingPath) -> MadeOut:
    """To the step before."""
    go_back(collection_here(), path.drawing_id)
    return made_out(None)


@api.post("/drawings/<int:drawing_id>/sittings", responses={"200": MadeOut})
def post_sitting(path: DrawingPath) -> MadeOut:
    """Begin a sitting, or go on with the one that is open."""
    return made_out(begin_sitting(collection_here(), path.drawing_id))


@api.post("/drawings/<int:drawing_id>/sittings/end", responses={"200": MadeOut})
def post_sitting_end(path: DrawingPath) -> MadeOut:
    """End the sitting that is open."""
    return made_out(end_sitting(collection_here(), path.drawing_id))


@api.post("/drawings/<int:drawing_id>/clock/alive", responses={"200": MadeOut})
def post_alive(path: DrawingPath) -> MadeOut:
    """Something happened at the bench: the clock runs."""
    alive(collection_here(), path.drawing_id)
    return made_out(None)


@api.post("/drawings/<int:drawing_id>/clock/pause", responses={"200": MadeOut})
def post_pause(path: DrawingPath) -> MadeOut:
    """Let the clock stand still."""
    pause(collection_here(), path.drawing_id)
    return made_out(None)


@api.post("/drawings/<int:drawing_id>/clock/give-back", responses={"200": MadeOut})
def post_give_back(path: DrawingPath) -> MadeOut:
    """Count the minutes before the clock stood still."""
    give_back(collection_here(), path.drawing_id)
    return made_out(None)


@api.get("/drawings/<int:drawing_id>/log", responses={"200": LogOut})
def get_log(path: DrawingPath) -> LogOut:
    """All of the log, the newest first."""
    return LogOut(entries=[EntryOut.model_validate(one) for one in whole_log(collection_here(), path.drawing_id)])


@api.post("/drawings/<int:drawing_id>/log", responses={"200": MadeOut})
def post_log(path: DrawingPath, body: EntriesIn) -> MadeOut:
    """Write lines; those that were sent before are kept once."""
    _, change = write_log(collection_here(), path.drawing_id, [one.said() for one in body.entries])
    alive(collection_here(), path.drawing_id)
    return made_out(change)


@api.post("/drawings/<int:drawing_id>/log/untick", responses={"200": MadeOut})
def post_untick(path: DrawingPath, body: UntickIn) -> MadeOut:
    """Take back the last layer that was ticked for a call."""
    return made_out(untick(collection_here(), path.drawing_id, body.call_id, body.section_id))


@api.get("/drawings/<int:drawing_id>/log/called", responses={"200": PencilCalledOut})
def get_called(path: DrawingPath, query: PencilCalledQuery) -> PencilCalledOut:
    """What a code, a name or the tray's number means."""
    sure, found = pencil_called(collection_here(), path.drawing_id, query.q)
    return PencilCalledOut(sure=sure, found=[ColourOut.model_validate(one) for one in found])


@api.put("/log/<int:entry_id>", responses={"200": MadeOut})
def put_entry(path: EntryPath, body: EntryEditIn) -> MadeOut:
    """Say a line anew, or move it."""
    return made_out(correct_entry(collection_here(), path.entry_id, body.revision, body.said()))


@api.delete("/log/<int:entry_id>", responses={"200": MadeOut})
def delete_entry(path: EntryPath) -> MadeOut:
    """Take a line out."""
    return made_out(remove_entry(collection_here(), path.entry_id))


@api.post("/drawings/<int:drawing_id>/drying", responses={"200": MadeOut})
def post_drying(path: DrawingPath, body: WetIn) -> MadeOut:
    """A section is wet from now on."""
    change = begin_drying(collection_here(), path.drawing_id, body.section_id, body.wetting, body.key)
    alive(collection_here(), path.drawing_id)
    return made_out(change)


@api.put("/drying/<int:drying_id>", responses={"200": MadeOut})
def put_drying(path: DryingPath, body: DryIn) -> MadeOut:
    """It is dry, or was before, or is not to be learned from."""
    return made_out(say_of_drying(collection_here(), path.drying_id, body.state))


@api.put("/drawings/<int:drawing_id>/preparation", responses={"200": MadeOut})
def put_tick(path: DrawingPath, body: PreparationTickIn) -> MadeOut:
    """Tick a line of the preparation."""
    return made_out(tick(collection_here(), path.drawing_id, body.task, body.done))


@api.post("/preparation", responses={"200": AddedOut})
def post_own_task(body: OwnTaskIn) -> AddedOut:
    """Add a line of one's own."""
    number, change = add_own_task(collection_here(), body.words)
    return AddedOut(id=number, change=change_out(change))


@api.delete("/preparation/<int:own_id>", responses={"200": MadeOut})
def delete_own_task(path: OwnTaskPath) -> MadeOut:
    """Take an own line out."""
    return made_out(remove_own_task(collection_here(), path.own_id))


@api.get("/drawings/<int:drawing_id>/as-done", responses={"200": AsDoneOut})
def get_as_done(path: DrawingPath) -> AsDoneOut:
    """The log as a recipe, and the plan beside it."""
    return AsDoneOut.model_validate(as_done(collection_here(), path.drawing_id))


@api.post("/drawings/<int:drawing_id>/as-done", responses={"200": AddedOut})
def post_as_done(path: DrawingPath, body: AsDoneIn) -> AddedOut:
    """Keep it as a recipe of its own."""
    number, change = keep_as_done(collection_here(), path.drawing_id, body.text)
    return AddedOut(id=number, change=change_out(change))
