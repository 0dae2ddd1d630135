package dasein.app.stage.set;

import dasein.app.stage.Change;
import dasein.app.stage.Edited;
import dasein.app.stage.Form;
import dasein.app.stage.KeyEdits;
import dasein.app.store.MediaMapper;
import dasein.core.BadInput;
import dasein.core.ground.Piece;
import dasein.core.ground.PieceFit;
import dasein.core.ground.SetRecipe;
import dasein.core.key.Curve;
import dasein.core.math.Vec3;
import dasein.core.shot.Shot;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.function.Supplier;
import org.springframework.stereotype.Component;

/** Changes of the set pieces. */
@Component
class PieceEdits {
    private static final int MOST = 500;
    private static final String[] KINDS =
            Arrays.stream(Piece.Kind.values()).map(Enum::name).toArray(String[]::new);

    private final MediaMapper media;

    PieceEdits(MediaMapper media) {
        this.media = media;
    }

    /** @param places of all points that can be chosen, by their number; asked for only where points matter */
    Change apply(Shot s, String action, Form f, Supplier<Map<Integer, Vec3>> places) {
        List<Piece> all = new ArrayList<>(s.set().pieces());
        if (action.equals("piece-add")) {
            if (all.size() >= MOST) throw new BadInput("more than " + MOST + " set pieces are not kept");
            Piece p = built(s, f, chosen(f, places.get()));
            all.add(p);
            return new Change(s.with(s.set().withPieces(all)), p.name() + " built");
        }
        int id = f.whole("id", "the piece", 0, 0, 1_000_000), i = 0;
        while (i < all.size() && all.get(i).id() != id) i++;
        if (i == all.size()) throw new BadInput("that piece is no longer there");
        Piece p = all.get(i);
        if (action.equals("piece-delete")) {
            all.remove(i);
            return new Change(s.with(s.set().withPieces(all)), p.name() + " taken away");
        }
        Edited<Piece> e =
                switch (action) {
                    case "piece-unkey" -> new Edited<>(p.still(), p.name() + " stands");
                    case "piece-key" -> keyed(p, f);
                    case "key", "key-set", "key-delete", "key-clear", "wave-add", "wave-set", "wave-delete" -> {
                        int frame = f.whole("frame", "the frame", 0, 0, 10_000_000);
                        yield KeyEdits.apply(p, action, f, frame, () -> p.rest(KeyEdits.channel(p, f)));
                    }
                    case "piece-settle" -> settled(p, chosen(f, places.get()));
                    case "piece-around" -> around(p, chosen(f, places.get()));
                    default -> set(s, p, f);
                };
        all.set(i, e.value());
        return new Change(s.with(s.set().withPieces(all)), e.said());
    }

    private static List<Vec3> chosen(Form f, Map<Integer, Vec3> places) {
        return f.ids("ids").stream().map(places::get).filter(Objects::nonNull).toList();
    }

    private Piece built(Shot s, Form f, List<Vec3> chosen) {
        Piece.Kind kind = Piece.Kind.valueOf(f.choice("kind", "FLOOR", KINDS));
        if (kind == Piece.Kind.POLYGON && chosen.size() < 3)
            throw new BadInput("an outline goes through three chosen points or more, one after the other");
        if (kind == Piece.Kind.MODEL && media.shelf("model").isEmpty())
            throw new BadInput("there is no model on the shelf; bring one in on the Blocking stage");
        int id = s.set().pieces().stream().mapToInt(Piece::id).max().orElse(0) + 1;
        SetRecipe.Catcher c = s.set().catcher();
        boolean wide = kind == Piece.Kind.TERRAIN;
        Piece p = new Piece(
                id,
                kind.name().toLowerCase(Locale.ROOT) + " " + id,
                kind,
                new Piece.Stand(c.x(), 0, c.z(), 0),
                wide ? new Piece.Size(c.width(), 0, c.depth()) : new Piece.Size(1, 1, 1),
                kind == Piece.Kind.STAIRS ? 4 : 0,
                List.of(),
                List.of(Piece.Role.SHADOW, Piece.Role.BOUNCE, Piece.Role.HIDE),
                new Piece.Mirror(0.3, 0.5),
                kind == Piece.Kind.MODEL ? media.shelf("model").get(0).hash() : "",
                0,
                0,
                Map.of());
        return chosen.isEmpty() || wide ? p : PieceFit.around(p, chosen);
    }

    /** As it stands in its fields, in this frame; straight from key to key. */
    private static Edited<Piece> keyed(Piece p, Form f) {
        int frame = f.whole("frame", "the frame", 0, 0, 10_000_000);
        Piece q = p;
        for (String c : Piece.CHANNELS)
            q = q.with(c, q.curve(c).with(new Curve.Key(frame, p.rest(c), Curve.Ease.LINEAR)));
        return new Edited<>(q, p.name() + " keyed in frame " + frame);
    }

    private static Edited<Piece> settled(Piece p, List<Vec3> chosen) {
        if (chosen.size() < 2) throw new BadInput("choose two points or more that lie on the piece's edges first");
        return new Edited<>(PieceFit.settle(p, chosen), p.name() + " settled on " + chosen.size() + " points");
    }

    private static Edited<Piece> around(Piece p, List<Vec3> chosen) {
        if (chosen.isEmpty()) throw new BadInput("choose points that lie on the piece first");
        return new Edited<>(PieceFit.around(p, chosen), p.name() + " laid around " + chosen.size() + " points");
    }

    private Edited<Piece> set(Shot s, Piece p, Form f) {
        EnumSet<Piece.Role> roles = EnumSet.noneOf(Piece.Role.class);
        for (Piece.Role r : Piece.Role.values()) if (f.tick(r.name(), p.does(r))) roles.add(r);
        Piece q = new Piece(
                p.id(),
                f.name("name", p.name()),
                p.kind(),
                new Piece.Stand(
                        f.number("x", "x", p.x(), -1e4, 1e4),
                        f.number("y", "the height of its foot", p.y(), -1e4, 1e4),
                        f.number("z", "z", p.z(), -1e4, 1e4),
                        f.number("headingDeg", "the heading", p.headingDeg(), -3600, 3600)),
                new Piece.Size(
                        f.number("width", "the width", p.width(), 0, 1e4),
                        f.number("height", "the height", p.height(), 0, 1e4),
                        f.number("depth", "the depth", p.depth(), 0, 1e4)),
                f.whole("steps", "the steps", p.steps(), 0, 200),
                p.corners(),
                List.copyOf(roles),
                new Piece.Mirror(
                        f.number("roughness", "the roughness", p.roughness(), 0, 1),
                        f.number("strength", "the strength", p.strength(), 0, 1)),
                f.has("model") ? model(f.text("model", "")) : p.model(),
                follows(s, f, p),
                f.has("follows") ? f.whole("frame", "the frame", p.builtIn(), 0, 10_000_000) : p.builtIn(),
                p.curves());
        return new Edited<>(q, q.name() + (f.has("x") && f.has("z") ? " moved" : " changed"));
    }

    private String model(String hash) {
        if (media.item(hash) == null || !media.item(hash).kind().equals("model"))
            throw new BadInput("that model is not on the shelf");
        return hash;
    }

    private static int follows(Shot s, Form f, Piece p) {
        int id = f.whole("follows", "the thing", p.follows(), 0, 1_000_000);
        if (id != 0 && s.camera().objects().stream().noneMatch(o -> o.id() == id))
            throw new BadInput("that thing is not solved on the Camera stage");
        return id;
    }
}
