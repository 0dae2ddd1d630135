package dasein.app.web;

import dasein.app.store.MediaMapper;
import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.light.LightRecipe;
import dasein.core.render.PassesRecipe;
import dasein.core.shot.Shot;
import java.util.List;
import org.springframework.stereotype.Component;

/** From a stage's form to the changed shot. What a change is called stands in {@link Change}. */
@Component
class Edits {
    private final MediaMapper media;
    private final PlateEdits plateEdits;
    private final TrackEdits trackEdits;
    private final CameraEdits cameraEdits;
    private final SetEdits setEdits;
    private final BlockingEdits blockingEdits;

    Edits(
            MediaMapper media,
            PlateEdits plateEdits,
            TrackEdits trackEdits,
            CameraEdits cameraEdits,
            SetEdits setEdits,
            BlockingEdits blockingEdits) {
        this.blockingEdits = blockingEdits;
        this.plateEdits = plateEdits;
        this.media = media;
        this.trackEdits = trackEdits;
        this.cameraEdits = cameraEdits;
        this.setEdits = setEdits;
    }

    record Change(Shot shot, String summary) {}

    Change apply(String stage, String action, Shot s, Form f) {
        return switch (stage) {
            case "plate" -> plateEdits.apply(s, action, f);
            case "tracks" -> trackEdits.apply(s, action, f);
            case "camera" -> cameraEdits.apply(s, action, f);
            case "set" -> setEdits.apply(s, action, f);
            case "blocking" -> blockingEdits.apply(s, action, f);
            case "light" -> light(s, f);
            case "passes" -> passes(s, f);
            case "comp" -> comp(s, f);
            default -> throw new BadInput("there is nothing to change on this stage");
        };
    }

    private Change light(Shot s, Form f) {
        LightRecipe l = s.light();
        LightRecipe.SunRecipe n = l.sun();
        String env = f.text("environment", l.environment());
        if (!env.isEmpty() && media.item(env) == null) throw new BadInput("that map is not on the shelf");
        LightRecipe next = new LightRecipe(
                env,
                f.number("turnDeg", "the turn", l.turnDeg(), -3600, 3600),
                f.number("level", "the level", l.level(), 0, 1000),
                new LightRecipe.SunRecipe(
                        f.choice("source", n.source(), "map", "own", "none"),
                        f.number("azimuthDeg", "the sun's azimuth", n.azimuthDeg(), -720, 720),
                        f.number("elevationDeg", "the sun's elevation", n.elevationDeg(), 0, 90),
                        f.number("angleDeg", "the sun's size", n.angleDeg(), 0.1, 90),
                        f.number("sunLevel", "the sun's level", n.level(), 0, 1000),
                        List.of(
                                f.number("red", "red", n.colour().get(0), 0, 10),
                                f.number("green", "green", n.colour().get(1), 0, 10),
                                f.number("blue", "blue", n.colour().get(2), 0, 10))));
        return new Change(s.with(next), "light changed");
    }

    private Change passes(Shot s, Form f) {
        PassesRecipe p = s.passes();
        PassesRecipe next = new PassesRecipe(
                f.number("size", "the size", p.size(), 0.1, 1),
                f.whole("minSamples", "the least samples", p.minSamples(), 2, 4096),
                f.whole("maxSamples", "the most samples", p.maxSamples(), 2, 16384),
                f.number("noise", "the noise", 100 * p.noise(), 0, 50) / 100,
                f.whole("bounces", "the bounces", p.bounces(), 0, 16),
                f.has("passShutter")
                        ? f.text("passShutter", "").isEmpty() ? -1 : f.number("passShutter", "the shutter", 0, 0, 360)
                        : p.shutterDeg(),
                f.tick("denoise", p.denoise()),
                f.tick("straight", p.straight()));
        if (next.maxSamples() < next.minSamples())
            throw new BadInput("the most samples must not be fewer than the least");
        return new Change(s.with(next), "pass settings changed");
    }

    private Change comp(Shot s, Form f) {
        CompRecipe c = s.comp();
        CompRecipe next = new CompRecipe(
                f.number("gain", "gain", c.gain(), 0, 20),
                f.number("blacks", "blacks", c.blacks(), 0, 0.5),
                f.number("saturation", "saturation", c.saturation(), 0, 3),
                f.number("softnessPx", "softness", c.softnessPx(), 0, 20),
                f.number("grain", "grain", 100 * c.grain(), 0, 20) / 100,
                f.number("shadow", "shadow density", c.shadow(), 0, 3),
                List.of(
                        f.number("tintRed", "tint", c.shadowTint().get(0), 0, 3),
                        f.number("tintGreen", "tint", c.shadowTint().get(1), 0, 3),
                        f.number("tintBlue", "tint", c.shadowTint().get(2), 0, 3)),
                f.number("bounce", "bounce", c.bounce(), 0, 5),
                f.number("reflection", "reflection", c.reflection(), 0, 5));
        return new Change(s.with(next), "comp changed");
    }
}
