package dasein.app.stage.output;

/**
 * What is to be written.
 *
 * @param format movie, png, exr, or straight for the undistorted plate with its maps; @param first frame, and last
 */
record Writing(String format, int first, int last) {
    static Writing parse(String settings) {
        String[] a = settings.split(" ");
        return new Writing(a[0], Integer.parseInt(a[1]), Integer.parseInt(a[2]));
    }

    /** As a task's settings keep it. */
    String settings() {
        return format + " " + first + " " + last;
    }
}
