package dasein.app.store;

import dasein.core.BadInput;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import java.util.function.UnaryOperator;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Shots and their revisions. An edit never changes anything: it adds a revision and moves the head. */
@Component
public class Shots {
    private static final String WHO = "you";

    private final ShotMapper mapper;

    Shots(ShotMapper mapper) {
        this.mapper = mapper;
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

    @Transactional
    public long create(String show, String name, Shot first) {
        if (show.isBlank() || name.isBlank()) throw new BadInput("a shot needs a name and a show");
        if (show.length() > 80 || name.length() > 80) throw new BadInput("names may have 80 letters at most");
        Long id = mapper.insertShot(mapper.show(show.trim()), name.trim());
        if (id == null) throw new BadInput("the show " + show.trim() + " already has a shot " + name.trim());
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
        Head h = head(id);
        if (h.revision.id() != seen)
            throw new Conflict("Somebody changed this shot meanwhile (" + h.revision.summary()
                    + "). Look again and repeat your change.");
        Shot next = change.apply(h.shot);
        String document = ShotJson.write(next);
        if (document.equals(ShotJson.write(h.shot))) return h;
        long r = mapper.insertRevision(id, seen, document, summary, WHO);
        if (mapper.moveHead(id, seen, r) == 0)
            throw new Conflict("Somebody changed this shot meanwhile. Look again and repeat your change.");
        return head(id);
    }

    @Transactional
    public void undo(long id) {
        Head h = head(id);
        if (h.canUndo) mapper.moveHead(id, h.revision.id(), h.revision.parent());
    }

    @Transactional
    public void redo(long id) {
        Head h = head(id);
        if (h.canRedo) mapper.moveHead(id, h.revision.id(), mapper.redo(h.revision.id()));
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
