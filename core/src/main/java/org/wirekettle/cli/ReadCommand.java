package org.wirekettle.cli;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import java.io.PrintWriter;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Contract.Protocol;
import org.wirekettle.contract.Operation;
import org.wirekettle.problem.Problem;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Prints what a contract offers, and its reading notes. */
@Command(name = "read", description = "Prints what a contract offers, and its notes.", mixinStandardHelpOptions = true)
final class ReadCommand implements Callable<Integer> {
    @Parameters(
            arity = "1..*",
            paramLabel = "PATH-OR-URL",
            description = "the WSDL, with its schema files, or a ZIP of them")
    private List<String> files;

    @Option(names = "--no-repairs", description = "what would have to be repaired counts as an error")
    private boolean noRepairs;

    @Option(names = "--json", description = "as JSON")
    private boolean json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws Exception {
        Contract c = Descriptions.read(files);
        PrintWriter out = spec.commandLine().getOut();
        if (json) {
            out.println(new ObjectMapper()
                    .enable(SerializationFeature.INDENT_OUTPUT)
                    .writeValueAsString(view(c)));
        } else {
            for (Contract.Service s : c.services()) {
                out.println("service " + s.name());
                for (Port p : s.ports()) {
                    out.println("  port " + p.name() + ", " + p.protocol().label() + ", "
                            + (p.address() == null ? "no address" : p.address()));
                    for (Operation o : p.operations()) {
                        out.println("    " + o.name() + ", " + lower(o.style()) + "/" + lower(o.use()) + ", "
                                + direction(o) + (o.isUsable() ? "" : ", unusable: " + o.unusable()));
                    }
                }
            }
        }
        out.flush();
        int exit = Wk.report(c.notes(), noRepairs, spec.commandLine().getErr());
        return c.ports().stream().flatMap(p -> p.operations().stream()).noneMatch(Operation::isUsable)
                ? Wk.UNREADABLE
                : exit;
    }

    private static String lower(Enum<?> e) {
        return e.name().toLowerCase(java.util.Locale.ROOT);
    }

    private static String direction(Operation o) {
        return lower(o.direction()).replace('_', '-');
    }

    private static Map<String, Object> view(Contract c) {
        Map<String, Object> out = new LinkedHashMap<>();
        out.put("name", c.name());
        out.put("targetNamespace", c.targetNamespace());
        out.put(
                "services",
                c.services().stream()
                        .map(s -> of(
                                "name",
                                s.name(),
                                "ports",
                                s.ports().stream().map(ReadCommand::view).toList()))
                        .toList());
        out.put("notes", c.notes().stream().map(ReadCommand::view).toList());
        return out;
    }

    private static Map<String, Object> view(Port p) {
        String soap = p.protocol() == Protocol.SOAP11 ? "1.1" : p.protocol() == Protocol.SOAP12 ? "1.2" : null;
        return of(
                "name",
                p.name(),
                "binding",
                p.binding(),
                "protocol",
                p.protocol().label(),
                "soapVersion",
                soap,
                "address",
                p.address(),
                "asksFor",
                p.requirements().stream()
                        .map(r -> of("text", r.text(), "optional", r.isOptional()))
                        .toList(),
                "operations",
                p.operations().stream()
                        .map(o -> of(
                                "name",
                                o.name(),
                                "style",
                                lower(o.style()),
                                "use",
                                lower(o.use()),
                                "action",
                                o.action(),
                                "direction",
                                direction(o),
                                "usable",
                                o.isUsable(),
                                "why",
                                o.unusable()))
                        .toList());
    }

    private static Map<String, Object> view(Problem n) {
        return of(
                "severity",
                lower(n.severity()),
                "code",
                n.code(),
                "file",
                n.place().document(),
                "line",
                n.place().line(),
                "text",
                n.text(),
                "assumed",
                n.assumed(),
                "section",
                n.section(),
                "affectsMessages",
                n.affectsMessages());
    }

    private static Map<String, Object> of(Object... namesAndValues) {
        Map<String, Object> out = new LinkedHashMap<>();
        for (int i = 0; i < namesAndValues.length; i += 2) {
            out.put((String) namesAndValues[i], namesAndValues[i + 1]);
        }
        return out;
    }
}
