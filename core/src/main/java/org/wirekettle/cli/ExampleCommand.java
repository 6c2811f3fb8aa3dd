package org.wirekettle.cli;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.Callable;
import org.wirekettle.call.MessageForm;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
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
        spec.commandLine().getOut().println(text(c, found, answer, full));
        spec.commandLine().getOut().flush();
        return Wk.report(c.notes(), false, spec.commandLine().getErr());
    }

    private static String text(Contract c, Wk.Found found, boolean isAnswer, boolean full) {
        Operation.Message message = found.message(isAnswer);
        Fill.Filled filled = Fill.compile(Examples.of(message.root(), full), message.root(), new Expressions())
                .run(Scope.of(new Node("", "record")));
        MessageForm form = MessageForm.of(c, found.port(), found.operation());
        try {
            return isAnswer ? form.answer(message, filled) : new String(form.write(filled), StandardCharsets.UTF_8);
        } catch (NotWritable e) {
            throw new Refused(
                    "example", null, "There is no example: " + e.problem().inWords() + ".");
        }
    }
}
