package dasein.app.task;

import dasein.core.BadInput;
import java.io.IOException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;

/** What went wrong in a job. */
final class Failure {
    private Failure() {}

    /** A sentence for people on what went wrong and is no fault of what they asked for. */
    static String why(Throwable e) {
        if (causedBy(e, OutOfMemoryError.class) != null)
            return "there was not enough memory; render at a smaller size, or start with more memory";
        BadInput said = causedBy(e, BadInput.class);
        if (said != null) return said.getMessage();
        NoSuchFileException missing = causedBy(e, NoSuchFileException.class);
        if (missing != null)
            return "the file " + Path.of(missing.getFile()).getFileName() + " is missing from the media folder";
        for (Throwable t = e; t != null; t = t.getCause())
            if (t instanceof IOException && String.valueOf(t.getMessage()).contains("No space left"))
                return "the disk is full; make room and try again, nothing is lost";
        return "something went wrong inside the program; the log tells more";
    }

    static <T extends Throwable> T causedBy(Throwable e, Class<T> kind) {
        for (Throwable t = e; t != null; t = t.getCause()) if (kind.isInstance(t)) return kind.cast(t);
        return null;
    }

    /**
     * Whether the cause is a connection that broke or could not be made (SQL states 08 and 57P): no fault of the work.
     */
    static boolean databaseLost(Throwable e) {
        for (Throwable t = e; t != null; t = t.getCause()) {
            if (t instanceof SQLTransientConnectionException) return true;
            if (t instanceof SQLException q
                    && q.getSQLState() != null
                    && (q.getSQLState().startsWith("08") || q.getSQLState().startsWith("57P"))) return true;
        }
        return false;
    }

    /** Of a job that ended three programs. */
    static String deadly(Hold h) {
        return (h.frame() == Hold.WHOLE
                        ? "three programs ended while they worked on it"
                        : "three programs ended over frame " + h.frame())
                + "; perhaps it needs more memory than there is: render at a smaller size, or start with more memory";
    }
}
