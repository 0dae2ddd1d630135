package dasein.core.presence;

import dasein.core.comp.step.Blacks;
import dasein.core.comp.step.Codec;
import dasein.core.comp.step.FallOff;
import dasein.core.comp.step.Fringe;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Glow;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Haze;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Sharpen;
import dasein.core.comp.step.Softness;
import dasein.core.presence.layout.Contact;
import dasein.core.presence.layout.FrameRate;
import dasein.core.presence.layout.Handles;
import dasein.core.presence.layout.LensAgrees;
import dasein.core.presence.layout.LightRatio;
import dasein.core.presence.layout.OnGround;
import dasein.core.presence.layout.Range;
import dasein.core.presence.layout.Sliding;
import dasein.core.presence.layout.SolveError;
import dasein.core.presence.layout.Sticking;
import dasein.core.presence.layout.SunDirection;
import dasein.core.presence.layout.TrueSize;
import dasein.core.presence.layout.Weight;
import dasein.core.presence.matched.DriftFollowed;
import dasein.core.presence.matched.Matched;
import dasein.core.presence.matched.Outcomes;
import dasein.core.presence.matched.ShutterTime;
import dasein.core.presence.matched.WhitesEnd;
import dasein.core.presence.picture.Clipped;
import dasein.core.presence.picture.ContactDarkening;
import dasein.core.presence.picture.DepthOrder;
import dasein.core.presence.picture.DoubledShadow;
import dasein.core.presence.picture.Flicker;
import dasein.core.presence.picture.GrainMoves;
import dasein.core.presence.picture.MaskPops;
import dasein.core.presence.picture.Outline;
import dasein.core.presence.picture.PlateUntouched;
import dasein.core.presence.picture.RenderNoise;
import dasein.core.presence.picture.Saturated;
import dasein.core.presence.picture.ShadowEdge;
import dasein.core.presence.picture.SoftnessHere;
import dasein.core.presence.picture.SwitchedOff;
import dasein.core.presence.picture.UnbuiltSurface;
import dasein.core.presence.picture.WetGround;
import java.util.ArrayList;
import java.util.List;

/** The checks there are, in the order in which they are told. A new one is a file and a line here. */
public final class Checks {
    private Checks() {}

    /** Those of how things stand, which need no rendered frame. */
    public static List<Check> layout() {
        return List.of(
                new FrameRate(),
                new SolveError(),
                new LensAgrees(),
                new TrueSize(),
                new Sticking(),
                new Contact(),
                new Sliding(),
                new Weight(),
                new OnGround(),
                new SunDirection(),
                new LightRatio(),
                new Handles());
    }

    /** New ones, which have not looked at anything yet. */
    public static List<Check> all() {
        List<Check> out = new ArrayList<>(layout());
        out.add(new Range());
        out.addAll(List.of(
                new RenderNoise(),
                new PlateUntouched(),
                new ShadowEdge(),
                new UnbuiltSurface(),
                new DoubledShadow(),
                new WetGround(),
                new SwitchedOff(),
                new ContactDarkening(),
                new DepthOrder(),
                new MaskPops(),
                new Outline(),
                new Saturated(),
                new Clipped(),
                new Flicker(),
                new GrainMoves(),
                new SoftnessHere()));
        Outcomes o = new Outcomes();
        out.add(new ShutterTime(o));
        out.add(new DriftFollowed(o));
        out.add(new WhitesEnd(o));
        out.addAll(matched(o));
        return out;
    }

    private static List<Check> matched(Outcomes o) {
        return List.of(
                new Matched(
                        o,
                        "shadow",
                        about("density", "Shadow density", "of 1", 0.12, "an eighth less or more is seen beside it"),
                        1,
                        Shadow.DENSITY),
                new Matched(
                        o,
                        "shadow",
                        about("shadow-tint", "Shadow colour", "of 1", 0.08, "more is seen beside a real one"),
                        1,
                        Shadow.RED,
                        Shadow.GREEN,
                        Shadow.BLUE),
                new Matched(
                        o,
                        "shadow edge",
                        about(
                                "shadow-edge",
                                "Softness of the shadow",
                                "px",
                                1.5,
                                "edges of one shadow differ by that much"),
                        1,
                        Shadow.SOFT),
                new Matched(
                        o,
                        "colour",
                        about("colour", "Picked colours", "%", 10, "a tenth is an eighth of a stop"),
                        0,
                        Gain.GAIN,
                        Gain.RED,
                        Gain.GREEN,
                        Gain.BLUE),
                new Matched(
                        o,
                        "blacks",
                        about("blacks", "Blacks", "% of white's light", 0.4, "less is lost in grain"),
                        100,
                        Blacks.BLACKS),
                new Matched(
                        o,
                        "haze",
                        about("haze", "Haze", "of 1", 0.05, "a twentieth is what picks are good for"),
                        1,
                        Haze.HAZE),
                new Matched(
                        o,
                        "fall-off",
                        about("corners", "Darker corners", "of 1", 0.06, "a twelfth of a stop at the corner"),
                        1,
                        FallOff.CORNER),
                new Matched(
                        o,
                        "glow",
                        about("glow", "Glow", "of 1", 0.05, "a twentieth of a lamp's light"),
                        1,
                        Glow.AMOUNT),
                new Matched(
                        o,
                        "halos",
                        about(
                                "halos",
                                "Halos of sharpening",
                                "of 1",
                                0.25,
                                "a quarter of the plate's own is not told apart"),
                        1,
                        Sharpen.AMOUNT),
                new Matched(
                        o,
                        "softness",
                        about("softness", "Softness of edges", "px", 0.2, "edges of one plate differ by that much"),
                        1,
                        Softness.SOFTNESS),
                new Matched(
                        o,
                        "fringe",
                        about("fringe", "Colour fringe", "px at the corner", 0.3, "less is not seen"),
                        1,
                        Fringe.RED,
                        Fringe.BLUE),
                new Matched(
                        o,
                        "grain",
                        about("grain", "Grain strength", "%", 15, "a sixth less or more is just seen"),
                        0,
                        Grain.GRAIN),
                new Matched(
                        o,
                        "grain",
                        about("grain-size", "Grain size", "px", 0.25, "a quarter of a pixel is just seen"),
                        1,
                        Grain.SIZE),
                new Matched(
                        o,
                        "compression",
                        about("compression", "Compression", "% of white", 3, "steps of less hide in grain"),
                        100,
                        Codec.STEP));
    }

    private static Finding.About about(String key, String name, String unit, double limit, String why) {
        return new Finding.About(key, name, "comp", unit, limit, why + " (common practice)");
    }
}
