package dasein.app.stage.comp;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.app.store.VersionMapper;
import dasein.core.BadInput;
import dasein.core.shot.Shot;
import java.util.List;
import org.springframework.stereotype.Component;

/** States of a shot that are kept by name, to be compared and to be gone back to. */
@Component
class CompVersions {
    private static final int MOST = 50, LONGEST = 400;

    private final VersionMapper rows;

    CompVersions(VersionMapper rows) {
        this.rows = rows;
    }

    static boolean knows(String action) {
        return action.matches("version-(keep|drop|back)");
    }

    List<VersionMapper.Version> of(long shot) {
        return rows.of(shot);
    }

    Change change(Seen s, String action, Form f) {
        Shot shot = s.shot();
        if (action.equals("version-keep")) {
            String note = f.text("note", "").strip();
            if (rows.of(s.id()).size() >= MOST) throw new BadInput("more than " + MOST + " versions are not kept");
            if (note.length() > LONGEST) throw new BadInput("a note may have " + LONGEST + " letters at most");
            rows.keep(s.id(), s.head().revision().id(), f.name("name", ""), note);
            return new Change(shot, "version kept");
        }
        VersionMapper.Version v = rows.of(s.id()).stream()
                .filter(k -> k.id() == f.id())
                .findFirst()
                .orElseThrow(() -> new BadInput("that version is gone"));
        if (action.equals("version-drop")) {
            rows.drop(s.id(), v.id());
            return new Change(shot, "version dropped");
        }
        return new Change(shot.with(s.desk().shots().document(v.revisionId()).comp()), "comp as in " + v.name());
    }
}
