package dasein.app.command;

import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The commands for pipelines: no database, no browser. */
@Command(
        name = "dasein",
        description = "Camera solve, placing, rendering and comp of CG into a plate.",
        mixinStandardHelpOptions = true,
        // Each of them has --help, too.
        scope = CommandLine.ScopeType.INHERIT,
        subcommands = {
            BeginCommand.class,
            TrackCommand.class,
            SolveCommand.class,
            SetCommand.class,
            ColoursCommand.class,
            RenderCommand.class,
            CompCommand.class,
            LightCommand.class,
            LensCommand.class,
            CameraCommand.class
        })
public final class Headless implements Runnable {
    @Override
    public void run() {
        CommandLine.usage(this, System.err);
    }

    /** @return exit code: 0 done, 2 bad input, 3 no solution */
    public static int run(String[] args) {
        CommandLine c = new CommandLine(new Headless());
        c.setCaseInsensitiveEnumValuesAllowed(true);
        c.setExecutionExceptionHandler(Console::failed);
        c.setParameterExceptionHandler(Console::misused);
        return c.execute(args);
    }
}
