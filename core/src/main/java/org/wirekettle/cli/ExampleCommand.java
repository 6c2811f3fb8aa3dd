package org.wirekettle.cli;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.Callable;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.record.Node;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.SoapVersion;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Prints an example envelope of an operation. */
@Command(name = "example", description = "Prints an example envelope.", mixinStandardHelpOptions = true)
final class ExampleCommand implements Callable<Integer> {
    @Parameters(
            arity = "1..*",
            paramLabel = "PATH-OR-URL",
            description = "the WSDL, with its schema files, or a ZIP of them")
    private List<String> files;

    @Option(names = "--operation", required = true, description = "the operation's name")
    private String operation;

    @Option(names = "--port", description = "the port's name; the first that can be called when left out")
    private String port;

    @Option(names = "--full", description = "everything the shape allows, not only what is required")
    private boolean full;

    @Option(names = "--answer", description = "the answer instead of the request")
    private boolean answer;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        Contract c = Descriptions.read(files);
        Wk.Found found = Wk.find(c, port, operation);
        spec.commandLine()
                .getOut()
                .println(new String(
                        envelope(found.port(), found.operation(), found.message(answer), full),
                        StandardCharsets.UTF_8));
        spec.commandLine().getOut().flush();
        return Wk.report(c.notes(), false, spec.commandLine().getErr());
    }

    static byte[] envelope(Contract.Port port, Operation o, Operation.Message message, boolean full) {
        Fill.Filled filled = Fill.compile(Examples.of(message.root(), full), message.root(), new Expressions())
                .run(Scope.of(new Node("", "record")));
        return Envelopes.write(SoapVersion.of(port.protocol()), o.use(), filled.headers(), filled.body());
    }
}
