package dasein.app.stage.plate;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.stage.begin.CarryOnWork;
import dasein.app.store.Inbox;
import dasein.app.store.Media;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.lens.FilmBack;
import dasein.core.plate.Conform;
import dasein.core.plate.PlateFacts;
import dasein.core.plate.Timecode;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;

/** How the footage is read, and what was written down on set. */
@Component
class PlateStage implements Stage {
    private final Desk desk;
    private final PlateEdits edits;
    private final Tasks tasks;
    private final Inbox inbox;

    PlateStage(Desk desk, PlateEdits edits, Tasks tasks, Inbox inbox) {
        this.desk = desk;
        this.edits = edits;
        this.tasks = tasks;
        this.inbox = inbox;
    }

    @Override
    public String key() {
        return "plate";
    }

    @Override
    public String name() {
        return "Plate";
    }

    @Override
    public List<String> works() {
        return List.of("health", "bring", CarryOnWork.KIND);
    }

    @Override
    public Line line(Seen s) {
        if (s.plateTrouble() != null) return Line.failed(s.plateTrouble().getMessage());
        PlateFacts p = s.plate();
        if (p == null) return Line.missing("no footage yet");
        if (s.otherRate() != null) return Line.failed(s.otherRate());
        int n = s.cutLast() - s.cutFirst() + 1;
        String frames = n == 1 ? "1 frame" : n + " frames";
        if (s.saidRate() == null) return Line.stale(frames + ", nobody said how many a second");
        return Line.fresh(frames + " at " + p.rate().words() + ", " + p.width() + " x " + p.height());
    }

    @Override
    public void bench(Model m, Seen s) {
        Shot shot = s.shot();
        m.addAttribute("encodings", Encoding.values());
        m.addAttribute("filmBacks", FilmBack.STANDARD);
        m.addAttribute(
                "orders",
                Arrays.stream(Conform.Order.values())
                        .filter(o -> o != Conform.Order.WITHOUT
                                || !shot.plate().conform().leftOut().isEmpty())
                        .toList());
        m.addAttribute("lines2", Conform.Fields.values());
        m.addAttribute("inbox", inbox.names());
        m.addAttribute("inboxRoot", inbox.root());
        m.addAttribute("health", s.facts("health", Prints.health(shot)));
        m.addAttribute("carriedOn", s.last(CarryOnWork.KIND));
        m.addAttribute("mayCarryOn", s.camera() == null || shot.performers().isEmpty());
        PlateFacts p = s.plate();
        if (p == null) return;
        m.addAttribute("rateSaid", s.saidRate() != null);
        m.addAttribute("greyCode", greyCode(p.colour()));
        m.addAttribute("warnings", p.warnings());
        m.addAttribute("timecodes", timecodes(s, p));
    }

    private static String greyCode(Encoding e) {
        if (e.linear()) return "18 % grey is the value 0.18.";
        double grey = e.encode(0.18);
        return String.format(
                Locale.ROOT,
                "18 %% grey lies at code %d of 255 (%d of 1023).",
                Math.round(255 * grey),
                Math.round(1023 * grey));
    }

    /** From which timecode to which, or what is wrong with it; null where there is none. */
    private static String timecodes(Seen s, PlateFacts p) {
        String own = s.shot().plate().timecode(), code = own.isEmpty() ? p.timecode() : own;
        if (code.isEmpty()) return null;
        try {
            Timecode t = Timecode.parse(code, p.rate());
            return t.plus(s.first() - p.first()) + " to " + t.plus(s.last() - p.first());
        } catch (BadInput e) {
            return e.getMessage();
        }
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        return edits.apply(s.shot(), action, f);
    }

    @Override
    public void start(Seen s, Form f) {
        if (f.text("action", "").equals("bring")) {
            String name = f.text("name", "");
            inbox.of(name);
            s.refuseWhile("bring");
            tasks.start(s.id(), s.head().revision().id(), "bring", "Bringing in", name);
            return;
        }
        s.needPlate();
        if (f.text("action", "").equals("carry-on")) carryOn(s);
        else look(s.id());
    }

    private void carryOn(Seen s) {
        s.needRate();
        s.refuseWhile("bring", "tracks", "camera", "clean", "platemap");
        tasks.start(s.id(), s.head().revision().id(), CarryOnWork.KIND, "Carry on", "");
    }

    /** Has a plate that is new looked over. */
    private void look(long shot) {
        tasks.startIfIdle(shot, desk.shots().head(shot).revision().id(), "health", "Plate health", "");
    }

    @Override
    public void bring(Seen s, List<MultipartFile> files, Form f) throws IOException {
        MultipartFile file = files.get(0);
        String name = FileNames.of(file);
        if (f.text("as", "").equals("photo")) {
            Media photo = desk.media().photo(file.getInputStream(), name);
            desk.shots().change(s.id(), "photo " + name, k -> withPhoto(k, new PlateRecipe.Photo(photo.hash(), name)));
        } else if (name.toLowerCase(Locale.ROOT).endsWith(".cube")) {
            Media t = desk.media().table(file.getInputStream(), name);
            desk.shots()
                    .change(
                            s.id(),
                            "colour table " + name,
                            k -> k.with(k.plate().withTable(t.hash())));
        } else {
            Media m = desk.media().plate(file.getInputStream(), name);
            desk.shots().change(s.id(), "plate " + name, k -> k.with(k.plate().withFile(m.hash())));
            look(s.id());
        }
    }

    private static Shot withPhoto(Shot s, PlateRecipe.Photo photo) {
        List<PlateRecipe.Photo> all = new ArrayList<>(s.plate().photos());
        if (all.stream().noneMatch(k -> k.hash().equals(photo.hash()))) all.add(photo);
        return s.with(s.plate().withPhotos(all));
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        m.put("health", s.facts("health", Prints.health(s.shot())));
    }
}
