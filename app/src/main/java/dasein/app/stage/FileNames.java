package dasein.app.stage;

import dasein.core.BadInput;
import org.springframework.web.multipart.MultipartFile;

/** Names of files as people sent them. */
public final class FileNames {
    private static final int LONGEST = 120;

    private FileNames() {}

    public static String of(MultipartFile f) {
        return plain(f.getOriginalFilename() == null ? "file" : f.getOriginalFilename());
    }

    /** The last part of a path that a browser sent, without control characters. */
    public static String plain(String path) {
        String n = path.replace('\\', '/');
        n = n.substring(n.lastIndexOf('/') + 1).replaceAll("\\p{Cntrl}", "");
        if (n.isBlank() || n.length() > LONGEST) throw new BadInput("that file name is empty or too long");
        return n;
    }
}
