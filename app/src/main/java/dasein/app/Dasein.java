package dasein.app;

import dasein.app.command.Headless;
import java.util.Set;

/** Where everything begins: headless commands run without Spring; all else starts the web application. */
public final class Dasein {
    private static final Set<String> SERVER = Set.of("serve", "demo", "worker");

    private Dasein() {}

    public static void main(String[] args) {
        System.setProperty("java.awt.headless", "true");
        if (args.length > 0 && SERVER.contains(args[0])) {
            Server.start(args);
        } else {
            System.exit(Headless.run(args));
        }
    }
}
