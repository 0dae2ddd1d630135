package dasein.app.page.review;

import dasein.app.scene.Comps;
import dasein.app.stage.Desk;
import dasein.app.stage.Pictures;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.store.Plates;
import dasein.app.store.ReviewMapper;
import dasein.app.store.Shots;
import dasein.app.store.VersionMapper;
import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.util.List;
import org.springframework.http.CacheControl;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;

/** What people who look at a shot see of it, and what they note. */
@Component
class Reviews {
    private static final int MOST_NOTES = 500, LONGEST = 2000, NAME = 60;
    /** Wider pictures are shown at this width. */
    private static final int WIDE = 1280;

    private final Desk desk;
    private final Seeing seeing;
    private final ReviewMapper rows;
    private final VersionMapper versions;

    Reviews(Desk desk, Seeing seeing, ReviewMapper rows, VersionMapper versions) {
        this.desk = desk;
        this.seeing = seeing;
        this.rows = rows;
        this.versions = versions;
    }

    /** @param revision that it shows, in whose name its pictures are kept by browsers */
    record Version(String name, String note, long revision) {}

    record Note(long id, int frame, Double x, Double y, String author, String text, String state, long revision) {}

    /**
     * @param rendered frames with performers in them; @param owner whether states may be set
     * @param plain whether frames that are not rendered show anything but the plate
     */
    record Data(
            String show,
            String shot,
            long revision,
            int first,
            int last,
            double rate,
            int width,
            int height,
            List<Integer> rendered,
            boolean plain,
            List<Version> versions,
            List<Note> notes,
            boolean owner) {}

    Shots.Head head(long shot) {
        return desk.shots().head(shot);
    }

    Data data(long id, boolean owner) {
        Seen s = seeing.of(id);
        Shots.Head h = s.head();
        var plate = s.needPlate();
        return new Data(
                h.row().showName(),
                h.row().name(),
                h.revision().id(),
                s.cutFirst(),
                s.cutLast(),
                plate.rate().perSecond(),
                plate.width(),
                plate.height(),
                s.renderedInCut(),
                h.shot().performers().isEmpty() || Comps.plainly(h.shot()),
                versions.of(id).stream()
                        .map(v -> new Version(v.name(), v.note(), v.revisionId()))
                        .toList(),
                rows.notes(id).stream()
                        .map(n -> new Note(
                                n.id(), n.frame(), n.x(), n.y(), n.author(), n.text(), n.state(), n.revisionId()))
                        .toList(),
                owner);
    }

    /** The finished frame, or the plate where it is not rendered. @param of a kept version's revision, 0 for now */
    ResponseEntity<byte[]> frame(long id, int frame, long of) throws IOException {
        Seen seen = inCut(id, frame);
        Shot s = of == 0 ? seen.shot() : version(id, of);
        Image im = desk.comps().frame(s, frame);
        if (im == null && (s.performers().isEmpty() || Comps.plainly(s)))
            im = desk.comps().plain(s, frame);
        return im == null ? plate(seen.shot(), frame) : picture(s, im);
    }

    ResponseEntity<byte[]> plate(long id, int frame) throws IOException {
        return plate(inCut(id, frame).shot(), frame);
    }

    private ResponseEntity<byte[]> plate(Shot s, int frame) throws IOException {
        try (Plates.Lent lent = desk.plates().need(s)) {
            return picture(s, lent.plate().frame(frame));
        }
    }

    private ResponseEntity<byte[]> picture(Shot s, Image im) throws IOException {
        Image small = im.width > WIDE ? im.resize(WIDE, Math.round((float) WIDE * im.height / im.width)) : im;
        return Pictures.of(small, desk.plates().facts(s).colour().shown(), CacheControl.noStore());
    }

    /** Only what was kept as a version may be looked at beside the newest. */
    private Shot version(long id, long of) {
        if (versions.of(id).stream().noneMatch(v -> v.revisionId() == of))
            throw new Shots.NotThere("that version is gone");
        return desk.shots().earlier(id, of);
    }

    private Seen inCut(long id, int frame) {
        Seen s = seeing.of(id);
        if (frame < s.cutFirst() || frame > s.cutLast())
            throw new Shots.NotThere("the shot goes from frame " + s.cutFirst() + " to " + s.cutLast());
        return s;
    }

    /** @param link through which it comes, null for the owner */
    void note(long id, Long link, int frame, Double x, Double y, String author, String text) {
        Seen s = inCut(id, frame);
        String said = text.strip(), by = author.strip();
        if (said.isEmpty()) throw new BadInput("a note needs some words");
        if (said.length() > LONGEST) throw new BadInput("a note may have " + LONGEST + " letters at most");
        if (by.length() > NAME) throw new BadInput("a name may have " + NAME + " letters at most");
        if ((x == null) != (y == null) || x != null && !(x >= 0 && x <= 1 && y >= 0 && y <= 1))
            throw new BadInput("a note's place lies within the picture");
        if (rows.count(id) >= MOST_NOTES) throw new BadInput("more than " + MOST_NOTES + " notes are not kept");
        rows.note(id, s.head().revision().id(), link, frame, x, y, by.isEmpty() ? "somebody" : by, said);
    }
}
