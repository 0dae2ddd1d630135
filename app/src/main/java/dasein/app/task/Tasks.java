package dasein.app.task;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.SchedulerClient;
import com.github.kagkarlsson.scheduler.task.FailureHandler.OnFailureRetryLater;
import com.github.kagkarlsson.scheduler.task.helper.OneTimeTask;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.Progress;
import java.io.IOException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import java.time.Duration;
import java.time.Instant;
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
    /** A job that was interrupted, or lost the database under it, is taken up again so soon. */
    private static final Duration AGAIN = Duration.ofSeconds(2);

    private static final long TELL_EVERY_NANOS = 250_000_000;

    private final TaskMapper mapper;
    private final Map<String, Work> works;
    private final OneTimeTask<Void> whole;
    private final OneTimeTask<Void> byFrame;
    private final Scheduler scheduler;
    private final ApplicationEventPublisher events;

    Tasks(TaskMapper mapper, List<Work> works, DataSource db, ApplicationEventPublisher events) {
        this.mapper = mapper;
        this.events = events;
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
                    runFrame(Long.parseLong(id[0]), Integer.parseInt(id[1]));
                });
        scheduler = Scheduler.create(new TransactionAwareDataSourceProxy(db), List.of(whole, byFrame))
                .threads(THREADS)
                .pollingInterval(Duration.ofSeconds(1))
                .pollUsingLockAndFetch(0.5, 1.0)
                .enableImmediateExecution()
                .heartbeatInterval(Duration.ofSeconds(1))
                .missedHeartbeatsLimit(4)
                .shutdownMaxWait(Duration.ofSeconds(2))
                .build();
    }

    @EventListener(ApplicationReadyEvent.class)
    void begin() {
        scheduler.start();
    }

    @EventListener(ContextClosedEvent.class)
    void end() {
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

    /** Starts work of which every frame is a job; {@code frames} in the order wanted. One at a time, as with others. */
    @Transactional
    public Task startFrames(long shot, long revision, String kind, String label, List<Integer> frames) {
        mapper.lock(shot, kind);
        if (!mapper.openOf(shot, kind).isEmpty()) throw new BadInput(label + " is under way already");
        long id = mapper.insert(shot, revision, kind, label, "");
        if (frames.isEmpty()) {
            mapper.start(id);
            mapper.end(id, "done", "every frame was there already");
            return mapper.find(id);
        }
        mapper.addFrames(id, frames);
        Instant now = Instant.now();
        // The order of frames is the order of their due times.
        for (int k = 0; k < frames.size(); k++)
            client().scheduleIfNotExists(
                            byFrame.instance(id + ":" + frames.get(k)), now.minusMillis(frames.size() - k));
        return mapper.find(id);
    }

    /** Starts work that failed once more, on the shot as it stands now: all of it, or the frames that were not done. */
    @Transactional
    public void again(Task failed, long revision) {
        List<Integer> frames = mapper.framesLeft(failed.id());
        if (frames.isEmpty()) start(failed.shotId(), revision, failed.kind(), failed.label(), failed.settings());
        else startFrames(failed.shotId(), revision, failed.kind(), failed.label(), frames);
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
        return told(t, mapper.end(t.id(), state, note));
    }

    /** By who has a job of it in hand; nothing when another took it over. */
    private void ended(Task t, Hold h, String state, String note) {
        told(t, mapper.endHeld(h, state, note));
    }

    private boolean told(Task t, int changed) {
        if (changed > 0) events.publishEvent(new TaskEnded(t.shotId()));
        return changed > 0;
    }

    void runWhole(long id) {
        if (mapper.start(id) == 0) return;
        Task t = mapper.find(id);
        guarded(t, mapper.take(id, Hold.WHOLE), h -> {
            String said = works.get(t.kind()).run(t, progress(h));
            ended(t, h, "done", said);
        });
    }

    private void runFrame(long id, int frame) {
        if (mapper.start(id) == 0) return;
        Task t = mapper.find(id);
        guarded(t, mapper.take(id, frame), h -> {
            int total = mapper.frames(id), before = mapper.framesDone(id);
            Work.ByFrame work = (Work.ByFrame) works.get(t.kind());
            Progress told = progress(h);
            work.frame(t, frame, (done, what) -> told.at((before + done) / total, "frame " + frame));
            if (mapper.frameDone(h) == 0) return;
            int finished = mapper.framesDone(id);
            if (mapper.progress(h, (double) finished / total, finished + " of " + total + " frames") == 0) return;
            if (finished == total) ended(t, h, "done", total + " frames");
        });
    }

    private interface Body {
        void run(Hold h) throws Exception;
    }

    private void guarded(Task t, Hold h, Body body) {
        if (h.deaths() >= MOST_DEATHS) {
            ended(t, h, "failed", deadly(h));
            return;
        }
        try {
            body.run(h);
        } catch (CancellationException e) {
            LOG.info("task {} cancelled", t.id());
        } catch (BadInput | NoSolution | Shots.Conflict e) {
            ended(t, h, "failed", e.getMessage());
        } catch (Exception | OutOfMemoryError e) {
            if (Thread.currentThread().isInterrupted() || e instanceof InterruptedException) {
                givenBack(h);
                throw new IllegalStateException("stopped", e);
            }
            if (databaseLost(e)) throw new IllegalStateException("the database was lost", e);
            // Threads of a pool hand the news of a cancel on in another wrapping.
            if (causedBy(e, CancellationException.class) != null) {
                LOG.info("task {} cancelled", t.id());
                return;
            }
            LOG.error("task {} {} failed", t.id(), t.label(), e);
            ended(t, h, "failed", why(e));
        }
    }

    private static String deadly(Hold h) {
        return (h.frame() == Hold.WHOLE
                        ? "three programs ended while they worked on it"
                        : "three programs ended over " + "frame " + h.frame())
                + "; perhaps it needs more memory than there is: render at a smaller size, or start with more memory";
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

    /** A sentence for people on what went wrong and is no fault of what they asked for. */
    static String why(Throwable e) {
        if (causedBy(e, OutOfMemoryError.class) != null)
            return "there was not enough memory; render at a smaller size, or start with more memory";
        BadInput said = causedBy(e, BadInput.class);
        if (said != null) return said.getMessage();
        NoSuchFileException missing = causedBy(e, NoSuchFileException.class);
        if (missing != null)
            return "the file " + Path.of(missing.getFile()).getFileName() + " is missing from the media folder";
        for (Throwable t = e; t != null; t = t.getCause())
            if (t instanceof IOException && String.valueOf(t.getMessage()).contains("No space left"))
                return "the disk is full; make room and try again, nothing is lost";
        return "something went wrong inside the program; the log tells more";
    }

    private static <T extends Throwable> T causedBy(Throwable e, Class<T> kind) {
        for (Throwable t = e; t != null; t = t.getCause()) if (kind.isInstance(t)) return kind.cast(t);
        return null;
    }

    /**
     * Whether the cause is a connection that broke or could not be made (SQL states 08 and 57P): no fault of the work.
     */
    private static boolean databaseLost(Throwable e) {
        for (Throwable t = e; t != null; t = t.getCause()) {
            if (t instanceof SQLTransientConnectionException) return true;
            if (t instanceof SQLException q
                    && q.getSQLState() != null
                    && (q.getSQLState().startsWith("08") || q.getSQLState().startsWith("57P"))) return true;
        }
        return false;
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
