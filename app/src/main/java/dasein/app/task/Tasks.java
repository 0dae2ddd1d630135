package dasein.app.task;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.SchedulerBuilder;
import com.github.kagkarlsson.scheduler.SchedulerClient;
import com.github.kagkarlsson.scheduler.task.FailureHandler.OnFailureRetryLater;
import com.github.kagkarlsson.scheduler.task.helper.OneTimeTask;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.render.RenderRoom;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import java.util.function.Function;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.jdbc.datasource.TransactionAwareDataSourceProxy;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * Long work over the job engine: a task is one job, or one job a frame. Jobs live in the database, so any worker takes
 * them, and those of a worker that died are taken up by another after a few missed heartbeats.
 */
@Component
public class Tasks {
    private static final Logger LOG = LoggerFactory.getLogger(Tasks.class);
    private static final int THREADS = 2, MOST_DEATHS = 3;
    /** So many frames fail before one is done, and the rest is not tried. */
    private static final int MOST_FAILED = 3;

    private static final int USUAL = 10, LOW = 0;
    /** How long before now the first of a line is due: later ones must be too. */
    private static final Duration LINE = Duration.ofHours(1);

    private static final String WORKER = "program " + ProcessHandle.current().pid();
    /** A job that was interrupted, or lost the database under it, is taken up again so soon. */
    private static final Duration AGAIN = Duration.ofSeconds(2);

    private static final long TELL_EVERY_NANOS = 250_000_000;

    private final TaskMapper mapper;
    private final Map<String, Work> works;
    private final OneTimeTask<Void> whole;
    private final OneTimeTask<Void> byFrame;
    /** One for what somebody waits for, one for frames. */
    private final Scheduler scheduler, frameScheduler;

    private final ApplicationEventPublisher events;
    private final Turns turns;

    Tasks(TaskMapper mapper, List<Work> works, DataSource db, ApplicationEventPublisher events, Turns turns) {
        this.mapper = mapper;
        this.events = events;
        this.turns = turns;
        this.works = works.stream().collect(Collectors.toMap(Work::kind, Function.identity()));
        whole = com.github.kagkarlsson.scheduler.task.helper.Tasks.oneTime("whole", Void.class)
                .onFailure(new OnFailureRetryLater<>(AGAIN))
                .onDeadExecutionRevive()
                .execute((job, context) -> runWhole(Long.parseLong(job.getId())));
        byFrame = com.github.kagkarlsson.scheduler.task.helper.Tasks.oneTime("frame", Void.class)
                .onFailure(new OnFailureRetryLater<>(AGAIN))
                .onDeadExecutionRevive()
                .execute((job, context) -> {
                    String[] id = job.getId().split(":");
                    // Lined up by a version of before, it has no number of its own.
                    int tries = id.length > 2 ? Integer.parseInt(id[2]) : 0;
                    runFrame(Long.parseLong(id[0]), Integer.parseInt(id[1]), tries);
                });
        DataSource shared = new TransactionAwareDataSourceProxy(db);
        scheduler = scheduler(shared, whole).build();
        frameScheduler = scheduler(shared, byFrame)
                .tableName("scheduled_frames")
                .enablePriority()
                .build();
    }

    private static SchedulerBuilder scheduler(DataSource db, OneTimeTask<Void> of) {
        return Scheduler.create(db, List.of(of))
                .threads(THREADS)
                .pollingInterval(Duration.ofSeconds(1))
                // The other way of polling locks in one statement, which PostgreSQL may let have far more than asked
                // for.
                .pollUsingFetch(0.5, 1.0)
                .enableImmediateExecution()
                .heartbeatInterval(Duration.ofSeconds(1))
                .missedHeartbeatsLimit(4)
                .shutdownMaxWait(Duration.ofSeconds(2));
    }

    @EventListener(ApplicationReadyEvent.class)
    void begin() {
        scheduler.start();
        frameScheduler.start();
    }

    @EventListener(ContextClosedEvent.class)
    void end() {
        frameScheduler.stop();
        scheduler.stop();
    }

    /**
     * Starts one-job work.
     *
     * @throws BadInput when work of that kind is under way in the shot already: there is one at a time
     */
    @Transactional
    public Task start(long shot, long revision, String kind, String label, String settings) {
        mapper.lock(shot, kind);
        if (!mapper.openOf(shot, kind).isEmpty()) throw new BadInput(label + " is under way already");
        return begun(shot, revision, kind, label, settings);
    }

    /** The same, but nothing happens while such work is under way. */
    @Transactional
    public void startIfIdle(long shot, long revision, String kind, String label, String settings) {
        mapper.lock(shot, kind);
        if (mapper.openOf(shot, kind).isEmpty()) begun(shot, revision, kind, label, settings);
    }

    /**
     * The same for work that follows a change at once: one that waits would work on the state before and gives way; one
     * that runs may have looked before, so this one is lined up behind it.
     */
    @Transactional
    public void startOnceMore(long shot, long revision, String kind, String label, String settings) {
        mapper.lock(shot, kind);
        for (Task t : mapper.openOf(shot, kind))
            if (t.state().equals("waiting")) mapper.end(t.id(), "cancelled", "a newer one took its place");
        begun(shot, revision, kind, label, settings);
    }

    private Task begun(long shot, long revision, String kind, String label, String settings) {
        long id = mapper.insert(shot, revision, kind, label, settings);
        client().scheduleIfNotExists(whole.instance(Long.toString(id)), Instant.now());
        return mapper.find(id);
    }

    /**
     * Starts work of which every frame is a job; {@code frames} in the order wanted. One at a time, as with others.
     *
     * @param low when nothing else is to be done; such work gives its place up to what somebody starts
     */
    @Transactional
    public Task startFrames(long shot, long revision, String kind, String label, List<Integer> frames, boolean low) {
        mapper.lock(shot, kind);
        for (Task t : mapper.openOf(shot, kind)) {
            if (!t.low())
                throw new BadInput(label + (t.paused() ? " is paused: go on with it" : " is under way already"));
            mapper.end(t.id(), "cancelled", "a newer one took its place");
        }
        long id = mapper.insertFrames(shot, revision, kind, label, low);
        if (frames.isEmpty()) {
            mapper.start(id);
            mapper.end(id, "done", "every frame was there already");
            return mapper.find(id);
        }
        mapper.addFrames(id, frames);
        lineUp(mapper.find(id), frames);
        return mapper.find(id);
    }

    /** The same, in the place of any that is under way. */
    @Transactional
    public Task startFramesAnew(
            long shot, long revision, String kind, String label, List<Integer> frames, boolean low) {
        mapper.lock(shot, kind);
        for (Task t : mapper.openOf(shot, kind)) mapper.end(t.id(), "cancelled", "a newer one took its place");
        return startFrames(shot, revision, kind, label, frames, low);
    }

    public Task startFrames(long shot, long revision, String kind, String label, List<Integer> frames) {
        return startFrames(shot, revision, kind, label, frames, false);
    }

    /**
     * Lines frames up in their order, which is that of their due times. Another task's begin where those that wait
     * begin, so that shots take turns.
     */
    private void lineUp(Task t, List<Integer> frames) {
        Instant now = Instant.now(), first = now.minus(LINE);
        OffsetDateTime waiting = mapper.firstDue();
        if (waiting != null && waiting.toInstant().isBefore(now)) first = waiting.toInstant();
        for (int k = 0; k < frames.size(); k++) {
            int tries = mapper.lineUp(t.id(), frames.get(k));
            frameScheduler.scheduleIfNotExists(
                    byFrame.instanceBuilder(t.id() + ":" + frames.get(k) + ":" + tries)
                            .priority(t.low() ? LOW : USUAL)
                            .build(),
                    first.plusMillis(k));
        }
    }

    /** Lets frames rest; those in hand are begun anew later. @return whether there was anything to pause */
    @Transactional
    public boolean pause(long id) {
        return mapper.pause(id) > 0;
    }

    /** Goes on with what was paused. */
    @Transactional
    public boolean goOn(long id) {
        if (mapper.goOn(id) == 0) return false;
        List<Integer> left = mapper.framesInLine(id);
        // Those in hand may have come to their end all the same.
        int lost = mapper.framesLeft(id).size();
        if (left.isEmpty()) mapper.end(id, lost == 0 ? "done" : "failed", lost == 0 ? "done" : lost + " frames failed");
        else lineUp(mapper.find(id), left);
        return true;
    }

    /** One frame that failed once more, while the others go on. */
    @Transactional
    public boolean retry(long id, int frame) {
        Task t = mapper.find(id);
        if (t == null || !t.open() || mapper.unfail(id, frame) == 0) return false;
        lineUp(t, List.of(frame));
        return true;
    }

    /** Starts work that failed once more, on the shot as it stands now: all of it, or the frames that were not done. */
    @Transactional
    public void again(Task failed, long revision) {
        List<Integer> frames = mapper.framesLeft(failed.id());
        if (frames.isEmpty()) start(failed.shotId(), revision, failed.kind(), failed.label(), failed.settings());
        else startFrames(failed.shotId(), revision, failed.kind(), failed.label(), frames, failed.low());
    }

    private SchedulerClient client() {
        return scheduler;
    }

    /** @return whether there was anything to cancel */
    public boolean cancel(long id) {
        Task t = mapper.find(id);
        return t != null && ended(t, "cancelled", "cancelled");
    }

    private boolean ended(Task t, String state, String note) {
        return told(t, mapper.end(t.id(), state, note), state, note);
    }

    /** By who has a job of it in hand; nothing when another took it over. */
    private void ended(Task t, Hold h, String state, String note) {
        told(t, mapper.endHeld(h, state, note), state, note);
    }

    private boolean told(Task t, int changed, String state, String note) {
        if (changed > 0) events.publishEvent(new TaskEnded(t.shotId(), t.id(), t.kind(), state, note));
        return changed > 0;
    }

    void runWhole(long id) {
        if (mapper.start(id) == 0) return;
        Task t = mapper.find(id);
        Work work = works.get(t.kind());
        guarded(t, mapper.take(id, Hold.WHOLE, WORKER), h -> {
            if (work.batch()) {
                ended(t, h, "done", work.run(t, givingWay(progress(h))));
                return;
            }
            try (Turns.Turn turn = turns.first()) {
                ended(t, h, "done", work.run(t, progress(h)));
            }
        });
    }

    private void runFrame(long id, int frame, int tries) {
        if (mapper.tries(id, frame) != tries || mapper.start(id) == 0) return;
        Task t = mapper.find(id);
        guarded(t, mapper.take(id, frame, WORKER), h -> {
            int total = mapper.frames(id), before = mapper.framesDone(id);
            Work.ByFrame work = (Work.ByFrame) works.get(t.kind());
            Progress told = progress(h);
            long began = System.nanoTime();
            work.frame(t, frame, givingWay((done, what) -> told.at((before + done) / total, "frame " + frame)));
            if (mapper.frameDone(h, (System.nanoTime() - began) / 1e9) == 0) return;
            after(t, h);
        });
    }

    /** Says how far a task is after one of its frames came to an end, and ends it with the last. */
    private void after(Task t, Hold h) {
        int total = mapper.frames(t.id()), finished = mapper.framesDone(t.id());
        List<FrameState> failed =
                mapper.frameStates(t.id()).stream().filter(FrameState::failed).toList();
        String done =
                finished + " of " + total + " frames" + (failed.isEmpty() ? "" : ", " + failed.size() + " failed");
        if (mapper.progress(h, (double) finished / total, done) == 0) return;
        if (finished == total) ended(t, h, "done", total + " frames");
        else if (finished + failed.size() == total || finished == 0 && failed.size() >= MOST_FAILED)
            ended(
                    t,
                    h,
                    // Nobody asked for it: it is no failure that somebody must see.
                    t.low() ? "cancelled" : "failed",
                    total == 1
                            ? failed.get(0).note()
                            : failed.size() + " of " + total + " frames failed; frame "
                                    + failed.get(0).frame() + ": "
                                    + failed.get(0).note());
    }

    /** A job failed: a frame by itself, the others go on. */
    private void failed(Task t, Hold h, String why) {
        if (h.frame() == Hold.WHOLE) ended(t, h, "failed", why);
        else if (mapper.frameFailed(h, why) > 0) after(t, h);
    }

    /**
     * Stands still while others come first, and still learns of a cancel. Not while somebody waits for memory: this one
     * may hold it.
     */
    private Progress givingWay(Progress p) {
        return (done, what) -> {
            p.at(done, what);
            try {
                while (!RenderRoom.wanted() && !turns.giveWay()) p.at(done, what + ", gives way");
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new CancellationException();
            }
        };
    }

    private interface Body {
        void run(Hold h) throws Exception;
    }

    private void guarded(Task t, Hold h, Body body) {
        if (h.deaths() >= MOST_DEATHS) {
            failed(t, h, Failure.deadly(h));
            return;
        }
        try {
            body.run(h);
            givenBack(h);
        } catch (BadInput | NoSolution | Shots.Conflict e) {
            failed(t, h, e.getMessage());
            givenBack(h);
        } catch (Exception | OutOfMemoryError e) {
            if (Thread.currentThread().isInterrupted() || e instanceof InterruptedException) {
                givenBack(h);
                throw new IllegalStateException("stopped", e);
            }
            if (Failure.databaseLost(e)) throw new IllegalStateException("the database was lost", e);
            // Threads of a pool hand the news of a cancel on in another wrapping.
            if (Failure.causedBy(e, CancellationException.class) != null) {
                LOG.info("task {} stopped", t.id());
                givenBack(h);
                return;
            }
            LOG.error("task {} {} failed", t.id(), t.label(), e);
            failed(t, h, Failure.why(e));
            givenBack(h);
        }
    }

    /** That it stops is no fault of the job. */
    private void givenBack(Hold h) {
        boolean interrupted = Thread.interrupted();
        try {
            mapper.giveBack(h);
        } catch (RuntimeException e) {
            LOG.info("task {} could not be given back: {}", h.taskId(), e.getMessage());
        } finally {
            if (interrupted) Thread.currentThread().interrupt();
        }
    }

    /**
     * Tells the database how far the work is, not more than four times a second, and learns there that it was cancelled
     * or taken over.
     */
    private Progress progress(Hold h) {
        return new Progress() {
            private long told;

            @Override
            public synchronized void at(double done, String what) {
                long now = System.nanoTime();
                if (now - told < TELL_EVERY_NANOS) return;
                told = now;
                if (mapper.progress(h, Math.max(0, Math.min(1, done)), what) == 0) throw new CancellationException();
            }
        };
    }
}
