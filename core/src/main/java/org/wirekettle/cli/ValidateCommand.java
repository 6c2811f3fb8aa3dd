package org.wirekettle.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import org.wirekettle.call.MessageForm;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.MessageCheck;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.soap.SoapVersion;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XmlText;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Says whether a message fits an operation. */
@Command(name = "validate", description = "Says whether a message fits an operation.", mixinStandardHelpOptions = true)
final class ValidateCommand implements Callable<Integer> {
    @Parameters(
            arity = "1..*",
            paramLabel = "FILE",
            description = "the contract (PATH-OR-URL...), then the message: an envelope, or the body's content")
    private List<String> files;

    @Option(names = "--operation", required = true, description = "the operation's name")
    private String operation;

    @Option(names = "--port", description = "the port's name; the first that can be called when left out")
    private String port;

    @Option(names = "--answer", description = "as the answer instead of the request")
    private boolean answer;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws IOException {
        if (files.size() < 2) {
            throw new Refused("message.unavailable", null, "Give the contract first, then the message's file.");
        }
        String file = files.get(files.size() - 1);
        Contract c = Descriptions.read(files.subList(0, files.size() - 1));
        Wk.Found found = Wk.find(c, port, operation);
        if (!Files.isRegularFile(Path.of(file))) {
            throw new Refused("message.unavailable", Place.of(file), "There is no such file.");
        }
        List<Problem> notes = new ArrayList<>();
        if (found.operation().http() != null) {
            MessageForm form = MessageForm.of(c, found.port(), found.operation());
            String text = Files.readString(Path.of(file));
            notes.addAll(answer ? form.checkAnswer(text) : form.check(text));
            return told(notes);
        }
        XmlText.Parsed parsed = XmlText.read(file, Files.readAllBytes(Path.of(file)), notes);
        XmlElement root = parsed.root();
        String ns = SoapVersion.of(found.port().protocol()).namespace();
        if (root.name().equals("Envelope") && !root.namespace().equals(ns)) {
            notes.add(Problem.error(
                    "envelope.version",
                    root.place(),
                    "The envelope is of another SOAP version than the port.",
                    "SOAP 1.1 §4.1.2, SOAP 1.2 part 1 §5.1"));
        }
        boolean isEnvelope = root.name().equals("Envelope");
        XmlElement body = isEnvelope
                ? root.children().stream()
                        .filter(e -> e.name().equals("Body"))
                        .findFirst()
                        .orElse(null)
                : null;
        notes.addAll(
                isEnvelope
                        ? MessageCheck.check(c, found.message(answer), body, parsed.text())
                        : MessageCheck.checkBare(c, found.message(answer), root, parsed.text()));
        return told(notes);
    }

    private int told(List<Problem> notes) {
        if (notes.isEmpty()) {
            spec.commandLine().getOut().println("it fits");
            spec.commandLine().getOut().flush();
            return Wk.USABLE;
        }
        Wk.report(notes, true, spec.commandLine().getErr());
        return Wk.UNREADABLE;
    }
}
