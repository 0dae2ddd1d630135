package dasein.app.store;

import dasein.core.BadInput;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import java.util.function.UnaryOperator;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Shots and their revisions. An edit never changes anything: it adds a revision and moves the head. */
@Component
public class Shots {
    private static final String WHO = "you";

    private static final int MOST_TRIES = 20;

    private final ShotMapper mapper;
    /** Ourselves with transactions around. */
    private final ObjectProvider<Shots> self;

    Shots(ShotMapper mapper, ObjectProvider<Shots> self) {
        this.mapper = mapper;
        this.self = self;
    }

    /** A shot as it stands. {@code number} counts its revisions for people. */
    public record Head(
            ShotMapper.ShotRow row,
            ShotMapper.Revision revision,
            Shot shot,
            int number,
            boolean canUndo,
            boolean canRedo) {
        public long id() {
            return row.id();
        }
    }

    public Head head(long id) {
        ShotMapper.ShotRow row = mapper.shot(id);
        if (row == null) throw new NotThere("there is no such shot");
        ShotMapper.Revision r = mapper.revision(row.head());
        return new Head(
                row,
                r,
                ShotJson.read(r.document()),
                mapper.number(id, r.id()),
                r.parent() != null,
                mapper.redo(r.id()) != null);
    }

    public Shot document(long revision) {
        return ShotJson.read(mapper.revision(revision).document());
    }

    /** A state of a shot. @throws NotThere when it is not one of its own */
    public Shot earlier(long id, long revision) {
        ShotMapper.Revision r = mapper.revision(revision);
        if (r == null || r.shotId() != id) throw new NotThere("this shot has no such revision");
        return ShotJson.read(r.document());
    }

    /** @throws BadInput when no shot can be called so */
    public void refuseName(String show, String name) {
        if (show.isBlank() || name.isBlank()) throw new BadInput("a shot needs a name and a show");
        if (show.length() > 80 || name.length() > 80) throw new BadInput("names may have 80 letters at most");
        if (mapper.named(show.trim(), name.trim()) > 0) throw taken(show, name);
    }

    private static BadInput taken(String show, String name) {
        return new BadInput("the show " + show.trim() + " already has a shot " + name.trim());
    }

    /** All that was made of it stays, so that it can be put back. */
    public void takeAway(long id) {
        if (mapper.takeAway(id) == 0) throw new NotThere("there is no such shot");
    }

    /** @throws BadInput when another shot of the show has its name by now */
    public void putBack(long id) {
        if (mapper.putBack(id) > 0) return;
        ShotMapper.ShotRow r = mapper.takenAway().stream()
                .filter(s -> s.id() == id)
                .findFirst()
                .orElseThrow(() -> new NotThere("there is no such shot to put back"));
        throw taken(r.showName(), r.name());
    }

    @Transactional
    public long create(String show, String name, Shot first) {
        refuseName(show, name);
        Long id = mapper.insertShot(mapper.show(show.trim()), name.trim());
        if (id == null) throw taken(show, name);
        long r = mapper.insertRevision(id, null, ShotJson.write(first), "shot created", WHO);
        mapper.moveHead(id, null, r);
        return id;
    }

    /**
     * Adds a revision on top of {@code seen}, the head the person was looking at.
     *
     * @throws Conflict when the head has moved since
     */
    @Transactional
    public Head edit(long id, long seen, String summary, UnaryOperator<Shot> change) {
        Head h = seen(id, seen);
        Shot next = change.apply(h.shot);
        if (ShotJson.write(next).equals(ShotJson.write(h.shot))) return h;
        String document = ShotJson.write(next, h.revision.document());
        long r = mapper.insertRevision(id, seen, document, summary, WHO);
        move(h, r);
        return head(id);
    }

    /**
     * A change that fits whatever was changed meanwhile, as a task makes it when it ends: it is made on top of the head
     * that is there then.
     */
    public Head change(long id, String summary, UnaryOperator<Shot> change) {
        for (int tries = 1; ; tries++) {
            ShotMapper.ShotRow row = mapper.shot(id);
            if (row == null) throw new NotThere("there is no such shot");
            try {
                return self.getObject().edit(id, row.head(), summary, change);
            } catch (Conflict e) {
                if (tries == MOST_TRIES) throw e;
            }
        }
    }

    /** @param seen the head the person was looking at @throws Conflict when it has moved since */
    @Transactional
    public void undo(long id, long seen) {
        Head h = seen(id, seen);
        if (h.canUndo) move(h, h.revision.parent());
    }

    /** @param seen the head the person was looking at @throws Conflict when it has moved since */
    @Transactional
    public void redo(long id, long seen) {
        Head h = seen(id, seen);
        if (h.canRedo) move(h, mapper.redo(h.revision.id()));
    }

    private Head seen(long id, long seen) {
        Head h = head(id);
        refuseOther(h, seen);
        return h;
    }

    /** @throws Conflict when somebody was looking at another state than the one that stands now */
    public void refuseOther(Head h, long seen) {
        if (h.revision.id() != seen)
            throw new Conflict("Somebody changed this shot meanwhile (" + h.revision.summary()
                    + "). Look again and repeat your change.");
    }

    private void move(Head h, long to) {
        if (mapper.moveHead(h.id(), h.revision.id(), to) == 0)
            throw new Conflict("Somebody changed this shot meanwhile. Look again and repeat your change.");
    }

    /** Two people, one head. */
    public static class Conflict extends RuntimeException {
        Conflict(String s) {
            super(s);
        }
    }

    public static class NotThere extends RuntimeException {
        public NotThere(String s) {
            super(s);
        }
    }
}
