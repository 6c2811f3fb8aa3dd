package org.wirekettle.cli;

import java.io.PrintStream;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.problem.Severity;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/**
 * The command line. Exit code 0: usable, 1: usable with warnings, 2: unreadable, or the call was wrong. Messages go to
 * standard error.
 */
@Command(
        name = "wk",
        description = "Reads contracts, makes examples, checks messages, evaluates expressions.",
        mixinStandardHelpOptions = true,
        subcommands = {ReadCommand.class, ExampleCommand.class, ValidateCommand.class, EvalCommand.class})
public final class Wk {
    static final int USABLE = 0;
    static final int WARNINGS = 1;
    static final int UNREADABLE = 2;

    public static void main(String[] args) {
        System.exit(run(System.out, System.err, args));
    }

    /** Runs one command, printing to the given streams. @return the exit code */
    public static int run(PrintStream out, PrintStream err, String... args) {
        PrintWriter o = new PrintWriter(out, true, StandardCharsets.UTF_8);
        PrintWriter e = new PrintWriter(err, true, StandardCharsets.UTF_8);
        int exit = new CommandLine(new Wk())
                .setOut(o)
                .setErr(e)
                .setExecutionExceptionHandler((x, command, parsed) -> {
                    if (x instanceof Refused r) {
                        e.println((r.place() == null ? "" : r.place() + ": ") + r.getMessage());
                    } else {
                        e.println("wk failed, which it should not: " + x);
                        x.printStackTrace(e);
                    }
                    return UNREADABLE;
                })
                .execute(args);
        o.flush();
        e.flush();
        return exit;
    }

    /** Prints the notes, one a line. @return the exit code they call for */
    static int report(List<Problem> notes, boolean noRepairs, PrintWriter err) {
        int exit = USABLE;
        for (Problem n : notes) {
            boolean counts = n.severity() != Severity.INFO;
            String severity =
                    noRepairs && counts ? "error" : n.severity().name().toLowerCase(java.util.Locale.ROOT);
            err.println(severity + ": " + n.place() + ": " + n.text() + (n.assumed() == null ? "" : " " + n.assumed())
                    + (n.section() == null ? "" : " (" + n.section() + ")"));
            exit = !counts ? exit : noRepairs ? UNREADABLE : WARNINGS;
        }
        return exit;
    }

    /** @throws Refused when there is no such operation, listing those there are */
    static Found find(Contract c, String portName, String operation) {
        for (Port p : c.ports()) {
            if (portName == null || p.name().equals(portName)) {
                for (Operation o : p.operations()) {
                    if (o.name().equals(operation) && (o.isUsable() || portName != null)) {
                        return new Found(p, o);
                    }
                }
            }
        }
        List<String> names = c.ports().stream()
                .filter(p -> portName == null || p.name().equals(portName))
                .flatMap(p -> p.operations().stream())
                .map(Operation::name)
                .distinct()
                .toList();
        throw new Refused(
                "operation.unknown",
                null,
                "There is no operation " + operation + (portName == null ? "" : " at port " + portName)
                        + " that can be called; there are: " + String.join(", ", names) + ".");
    }

    /** An operation at its port. */
    record Found(Port port, Operation operation) {
        Operation.Message message(boolean answer) {
            if (!operation.isUsable()) {
                throw new Refused(
                        "operation.unusable",
                        null,
                        "The operation " + operation.name() + " cannot be used: " + operation.unusable());
            }
            Operation.Message m = answer ? operation.answer() : operation.request();
            if (m == null) {
                throw new Refused("operation.oneway", null, "The operation " + operation.name() + " has no answer.");
            }
            return m;
        }
    }
}
