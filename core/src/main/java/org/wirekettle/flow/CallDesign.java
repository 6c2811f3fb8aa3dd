package org.wirekettle.flow;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import org.wirekettle.call.ErrorRule;
import org.wirekettle.call.MessageForm;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.call.ServiceSession;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.soap.SoapVersion;

/** A call step with all it refers to, as it is looked at while it is designed. Used by one thread. */
public final class CallDesign {
    private final CallStep step;
    private final Contract contract;
    private final Contract.Port port;
    private final Operation operation;
    private final Expressions expressions;
    private final FillDesign fill;

    private CallDesign(
            CallStep step,
            Contract contract,
            Contract.Port port,
            Operation operation,
            Expressions expressions,
            SecretValues secrets) {
        this.step = step;
        this.contract = contract;
        this.port = port;
        this.operation = operation;
        this.expressions = expressions;
        MessageForm form = MessageForm.of(contract, port, operation);
        this.fill =
                new FillDesign(operation.request().root(), step.fill(), expressions, secrets, new FillDesign.Form() {
                    @Override
                    public String write(Fill.Filled filled) throws NotWritable {
                        return new String(form.write(filled), StandardCharsets.UTF_8);
                    }

                    @Override
                    public List<Problem> check(String text) {
                        return form.check(text);
                    }

                    @Override
                    public boolean isXml() {
                        return operation.http() == null;
                    }

                    @Override
                    public Fill.Envelope envelope() {
                        SoapVersion version = SoapVersion.of(port.protocol());
                        return new Fill.Envelope(
                                version.namespace(),
                                operation.use() == Operation.Use.ENCODED,
                                version == SoapVersion.SOAP11);
                    }
                });
    }

    /**
     * @param isTaken whether the steps after it can work on the answer
     * @param failure why not, in words; null when they can
     */
    public record Tried(OperationCaller.Result result, boolean isTaken, String failure) {
        /** What the answer says; null when there is none. */
        public Node reply() {
            return result.answer() == null ? null : result.answer().payload();
        }
    }

    /** @throws Refused in words, when something it refers to is not chosen yet, or not there */
    public static CallDesign of(CallStep step, Project project, Expressions expressions) {
        if (step.contract() == null || step.operation() == null) {
            throw new Refused("design.operation", null, "Choose the operation first.");
        }
        Contract contract = project.contract(step.contract(), step.version())
                .orElseThrow(() -> missing("contract", step.contract()));
        Contract.Port port = contract.port(step.port()).orElseThrow(() -> missing("port", step.port()));
        Operation o = port.operation(step.operation()).orElseThrow(() -> missing("operation", step.operation()));
        if (!o.isUsable()) {
            throw new Refused("operation.unusable", null, "The operation cannot be called: " + o.unusable());
        }
        Expressions withLists = expressions.with(new SourceLists(project, new SourceIndex.Room()));
        return new CallDesign(step, contract, port, o, withLists, looking(step, project));
    }

    /** Whether each may be sent; not what it is. */
    private static SecretValues looking(CallStep step, Project project) {
        SecretValues secrets = step.connection() == null ? SecretValues.NONE : project.secrets(step.connection());
        return name -> {
            secrets.value(name);
            return null;
        };
    }

    private static Refused missing(String what, String name) {
        return new Refused(what + ".unknown", null, "There is no " + what + " " + name + ".");
    }

    /** The fill of its request. */
    public FillDesign fill() {
        return fill;
    }

    /**
     * Makes the call.
     *
     * @throws Refused in words, when it has a hole in it: the service would only refuse it, or worse, not refuse it
     */
    public Tried call(Project project, Scope scope) {
        if (step.connection() == null) {
            throw new Refused("design.connection", null, "Choose the connection first.");
        }
        fill.refuseUnfilled(scope);
        Project.CallTarget target =
                project.connection(step.connection(), 1).orElseThrow(() -> missing("connection", step.connection()));
        OperationCaller caller = OperationCaller.of(port, operation, target.http(), project.clock(), rule(project));
        OperationCaller.Result result;
        try {
            result = caller.call(
                    target.headers(), new Mapping(step.fill()).rules(), expressions, scope, target.limits());
        } catch (ServiceSession.NoSession e) {
            throw new Refused("design.session", null, e.getMessage() + ".");
        }
        boolean isTaken = step.takes(result);
        return new Tried(
                result,
                isTaken,
                isTaken
                        ? null
                        : result.failure().code() + ": " + result.failure().text());
    }

    private ErrorRule rule(Project project) {
        try {
            Optional<ErrorRule.Texts> texts = project.errorRule(step.contract(), operation.name());
            return texts.isEmpty() ? null : new ErrorRule(texts.get(), expressions.alsoKnowing("reply"));
        } catch (ExpressionFault e) {
            throw new Refused(
                    "design.rule",
                    null,
                    "The rule by which " + operation.name() + " speaks of failures: " + e.getMessage());
        }
    }
}
