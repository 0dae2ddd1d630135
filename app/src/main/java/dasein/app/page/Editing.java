package dasein.app.page;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.stage.presence.StandingAfter;
import dasein.app.store.Shots;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import org.springframework.stereotype.Component;

/** An edit on its way from a form to a revision, whoever sends it. */
@Component
public class Editing {
    private final Seeing seeing;
    private final Shots shots;
    private final StandingAfter standing;

    Editing(Seeing seeing, Shots shots, StandingAfter standing) {
        this.seeing = seeing;
        this.shots = shots;
        this.standing = standing;
    }

    /** @param seen the revision that whoever edits was looking at; @return the edit in words */
    public String edit(long id, Stage stage, long seen, Form f) {
        String action = f.text("action", "");
        Seen s = seeing.of(id);
        shots.refuseOther(s.head(), seen);
        Change c = stage.edit(s, action, f);
        Shot after = Prints.goingOn(s.shot(), c.shot(), s.facts("camera", Prints.camera(s.shot())) != null);
        shots.edit(id, seen, c.summary(), k -> after);
        stage.after(seeing.of(id), action);
        follow(id, s.shot());
        return c.summary();
    }

    /** After any change of performers, set or light, how everything stands is looked at anew. */
    public void follow(long id, Shot before) {
        Seen s = seeing.of(id);
        if (!Prints.standing(before).equals(Prints.standing(s.shot()))) standing.look(s);
    }
}
