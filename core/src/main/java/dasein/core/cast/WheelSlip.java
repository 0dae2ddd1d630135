package dasein.core.cast;

import dasein.core.math.Affine;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import java.util.List;

/**
 * How far wheels are dragged over the ground from one moment to the next: along the tyre by what the hub goes and the
 * turning does not, and across it (slip and side slip; Gillespie, Fundamentals of Vehicle Dynamics, 1992, chapter 10).
 * Seen from what is posed, whatever posed it.
 */
final class WheelSlip {
    private final List<Wheel> wheels;
    private final Posing posing;
    private final double scale;

    /** @param scale metres to a unit of the model */
    WheelSlip(Model m, List<Wheel> wheels, double scale) {
        this.wheels = wheels.stream().filter(w -> w.turn().rolls()).toList();
        this.scale = scale;
        posing = new Posing(m);
    }

    boolean measures() {
        return !wheels.isEmpty();
    }

    /** A wheel's hub and axle, and radians it is turned about that. */
    private record Stand(Vec3 hub, Vec3 axle, Vec3 ahead, double turned) {}

    private Stand[] at(Moment m) {
        posing.at(m);
        Quat body = Affine.rotation(m.toSet());
        Vec3 up = body.rotate(Vec3.Y);
        return wheels.stream()
                .map(w -> {
                    double[] to = Affine.times(m.toSet(), posing.node(w.node()));
                    Quat q = Affine.rotation(to);
                    boolean x = w.turn().axis().equals("x"), y = w.turn().axis().equals("y");
                    Vec3 axle = q.rotate(x ? Vec3.X : y ? Vec3.Y : Vec3.Z), rim = q.rotate(x ? Vec3.Y : Vec3.X);
                    Vec3 ahead = axle.cross(up).unit(), high = ahead.cross(axle);
                    return new Stand(
                            new Vec3(to[3], to[7], to[11]), axle, ahead, Math.atan2(rim.dot(ahead), rim.dot(high)));
                })
                .toArray(Stand[]::new);
    }

    /**
     * Centimetres by which the wheel that is dragged most is dragged; NaN where none touches the ground.
     *
     * @param touch metres by which a wheel may hover and still counts as on the ground
     */
    double between(Moment from, Moment to, Blocking.Around around, double touch) {
        Stand[] a = at(from), b = at(to);
        double worst = Double.NaN;
        for (int i = 0; i < a.length; i++) {
            if (hovers(a[i], i, around) > touch || hovers(b[i], i, around) > touch) continue;
            double radius = wheels.get(i).radius() * scale, turned = b[i].turned - a[i].turned;
            Vec3 by = b[i].hub.minus(a[i].hub);
            double along = by.dot(a[i].ahead.plus(b[i].ahead).unit()),
                    across = by.dot(a[i].axle.plus(b[i].axle).unit());
            // How often it went round in between is not seen: as often as suits the way.
            double dragged = Math.IEEEremainder(along - radius * turned, 2 * Math.PI * radius);
            double cm = 100 * Math.hypot(dragged, across);
            if (!(cm <= worst)) worst = cm;
        }
        return worst;
    }

    private double hovers(Stand s, int wheel, Blocking.Around around) {
        double radius = wheels.get(wheel).radius() * scale;
        return s.hub.y() - radius - around.ground(s.hub.x(), s.hub.z(), s.hub.y());
    }
}
