package dasein.shoot;

import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.match.ColourPair;
import dasein.core.comp.match.HazePick;
import dasein.core.comp.match.Taken;
import dasein.core.comp.step.Steps;
import dasein.core.ground.GroundFit;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.light.sun.ShadowSun;
import dasein.core.math.Vec3;
import dasein.core.plate.PlateFacts;
import dasein.core.presence.Check;
import dasein.core.presence.Checks;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.presence.layout.LightRatio;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** What there is of a filmed shot, to be made wrong. */
final class Made {
    private final Filmed of;
    private final int middle, cutFirst, cutLast;
    Shot shot;
    CompRecipe comp;
    Map<Integer, Passes> passes;
    List<Integer> rendered, pops;
    SolvedCamera solved;
    List<Track> seen;
    double shutter = Walk.SHUTTER;
    List<GroundFit.Check> measured = List.of(new GroundFit.Check("survey pole", 2.4, 2.405, "m", false));
    double focalMm = Walk.FOCAL_MM;
    PlateFacts facts;
    Vec3 sun;
    LightRatio.Stops stops;
    int handles;
    /** Whether all frames have one frame's grain; what is added to the numbers from which grain is made. */
    boolean frozen;

    int seed;
    Clues clues = Clues.NONE;

    /** @param passes of a few frames one after the other */
    Made(Filmed of, CompRecipe right, Map<Integer, Passes> passes) {
        this.of = of;
        this.passes = new TreeMap<>(passes);
        rendered = List.copyOf(this.passes.keySet());
        middle = rendered.get(rendered.size() / 2);
        cutFirst = rendered.get(0);
        cutLast = rendered.get(rendered.size() - 1);
        shot = FilmedShot.of(of.film());
        comp = right;
        solved = of.camera();
        seen = of.tracks();
        facts = PlateFacts.of(of.plate());
        sun = of.film().hour().sunDirection();
    }

    interface Spoil {
        void spoil(Image comp, Passes p, int frame);
    }

    Spoil spoil = (im, p, f) -> {};

    interface Plate {
        Image of(Image plate, int frame);
    }

    /** What was filmed otherwise than it was. */
    Plate plate = (im, f) -> im;

    List<ColourPair> pairs = List.of();
    List<HazePick> hazes = List.of();

    Subject subject() throws Exception {
        Taken taken = new Taken(
                of::frame,
                of.plate().first() - of.off(),
                of.plate().last() - of.off(),
                of.plate().encoding(),
                middle,
                passes.get(middle),
                comp.at(middle, Walk.RATE),
                clues,
                seen,
                pairs,
                hazes,
                f -> of.plate().quantiser(f + of.off()),
                of.plate().halfColour(),
                shutter,
                f -> List.of());
        return new Subject(
                facts,
                cutFirst - handles,
                cutLast + handles,
                cutFirst,
                cutLast,
                focalMm,
                Walk.SENSOR_MM,
                solved,
                measured,
                shot.performers(),
                FilmedShot.blocking(of.film(), shot, solved),
                shot.set(),
                sun,
                new ShadowSun.Result(of.film().hour().sunDirection(), 0.2, 0.5, List.of()),
                stops,
                clues,
                seen,
                rendered,
                1,
                pops,
                comp,
                taken);
    }

    List<Finding> found(boolean matched) throws Exception {
        Subject s = subject();
        List<Check> all = Checks.all().stream()
                .filter(c -> matched || !c.getClass().getPackageName().endsWith("matched"))
                .toList();
        for (int f : rendered) {
            Check.Frame seen = frame(f);
            for (Check c : all) c.look(seen, s);
        }
        return all.stream()
                .map(c -> c.finding(s))
                .filter(x -> x.state() == Finding.State.FOUND)
                .toList();
    }

    Check.Frame frame(int f) {
        Passes p = passes.get(f);
        CompRecipe r = comp.at(f, Walk.RATE);
        Image source = plate.of(of.frame(f), f);
        Image done = Comp.frame(source, p, r, of.plate().encoding(), 1, frozen ? 1 : f + seed);
        spoil.spoil(done, p, f);
        return new Check.Frame(
                f,
                source,
                p,
                done,
                p.view,
                shot.set().catcher(),
                Steps.margin(r, 1),
                Steps.shadowMargin(r, 1),
                Steps.everywhere(r),
                r,
                of.plate().encoding(),
                k -> Comp.frame(source, p, k, of.plate().encoding(), 1, frozen ? 1 : f + seed));
    }
}
