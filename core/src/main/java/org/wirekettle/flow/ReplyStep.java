package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.MessageForm;
import org.wirekettle.connector.Field;
import org.wirekettle.contract.ContractOperation;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.TextTemplate;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Pick;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.FieldNames;

/**
 * What the flow answers to whoever handed it the record. The last one counts.
 *
 * @param from an expression: one record for each item; null for one
 * @param whole whether what {@code from} gives is the reply as it is, and has no columns
 * @param fill of the operation's answer, or of a fault's detail, in a flow that receives the request of one
 * @param fault then the name of the declared fault that is answered; null for the answer
 * @param text of the fault, for people; values in it stand in braces
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ReplyStep(
        @Nullable String from,
        List<Pick.Column> columns,
        @Nullable Boolean whole,
        @Nullable List<Mapping.Rule> fill,
        @Nullable String fault,
        @Nullable String text)
        implements StepKind {
    /** One of columns. */
    public ReplyStep(String from, List<Pick.Column> columns) {
        this(from, columns, null);
    }

    public ReplyStep(String from, List<Pick.Column> columns, Boolean whole) {
        this(from, columns, whole, null, null, null);
    }

    public ReplyStep {
        columns = columns == null ? List.of() : columns;
    }

    /** With another fill of the operation's message. */
    public ReplyStep withFill(List<Mapping.Rule> rules) {
        return new ReplyStep(from, columns, whole, rules, fault, text);
    }

    @Override
    public String title() {
        if (fill != null) {
            return fault == null ? "the operation's answer" : "the fault " + fault;
        }
        return Boolean.TRUE.equals(whole)
                ? from == null ? "choose what is answered" : "the whole of " + from
                : columns.isEmpty() ? "choose what is answered" : from == null ? "one record" : from;
    }

    @Override
    public List<Ref> named() {
        return fill == null ? List.of() : Ref.ofLists(fill);
    }

    @Override
    public Runner compile(FlowCompiler c) {
        Optional<ContractOperation> of = c.operation();
        if (of.isPresent()) {
            return message(c, of.get());
        }
        if (fill != null) {
            c.problem(
                    "It fills the message of an operation, whose request the flow does not receive: say what is answered"
                            + " instead.");
            return Runner.NONE;
        }
        return Boolean.TRUE.equals(whole) ? whole(c) : picked(c);
    }

    private Runner message(FlowCompiler c, ContractOperation of) {
        Shape root;
        try {
            root = root(of);
        } catch (Refused e) {
            c.problem(e.getMessage());
            return Runner.NONE;
        }
        Fill compiled =
                Fill.compile(new Mapping(fill == null ? List.of() : fill), root, c.expressions(), SecretValues.NONE);
        compiled.problems().forEach(c::problem);
        if (compiled.hasFiles()) {
            c.problem("Files do not go with replies.");
        }
        String why = text == null || text.isBlank() ? fault : text;
        Optional<TextTemplate> reason =
                fault == null ? Optional.empty() : Optional.of(StepText.compile(why, "text", c));
        Reply.Form form = new Reply.Form(List.of(), false);
        c.replies(form);
        return frame -> {
            Fill.Filled filled = compiled.run(frame.scope());
            if (!filled.problems().isEmpty()) {
                throw Failure.of(filled.problems().get(0));
            }
            String said = reason.map(r -> r.text(frame.scope())).orElse(null);
            frame.reply(new Reply(form, List.of(), new Reply.Message(fault, said, filled.headers(), filled.body())));
            frame.note(fault == null ? "the answer" : "the fault " + fault);
        };
    }

    /** What is filled. @throws Refused when there is none */
    private Shape root(ContractOperation of) {
        String name = of.operation().name();
        if (fault != null) {
            Shape detail = of.fault(fault)
                    .orElseThrow(() -> new Refused(
                            "reply.fault", null, "The operation " + name + " declares no fault " + fault + "."))
                    .detail();
            return Shape.element("message").children(() -> List.of(detail)).build();
        }
        if (of.operation().answer() == null) {
            throw new Refused("reply.none", null, "The operation " + name + " has no answer; leave the reply out.");
        }
        return of.operation().answer().root();
    }

    @Override
    public Optional<FillDesign> filling(Flow flow, Project project, Expressions expressions) {
        Optional<OperationRef> ref = flow.receives().map(ReceiveStep::request);
        if (ref.isEmpty()) {
            return Optional.empty();
        }
        ContractOperation of = ref.get().find(project);
        Expressions withLists = expressions.with(new SourceLists(project, new SourceIndex.Room()));
        List<Mapping.Rule> rules = fill == null ? List.of() : fill;
        return Optional.of(new FillDesign(root(of), rules, withLists, SecretValues.NONE, new FillDesign.Form() {
            private final MessageForm form = MessageForm.of(of.contract(), of.port(), of.operation());

            @Override
            public String write(Fill.Filled filled) {
                return fault == null ? form.answer(of.operation().answer(), filled) : filled.body();
            }

            @Override
            public List<Problem> check(String written) {
                return fault == null
                        ? form.checkAnswer(written)
                        : of.contract().schemas().validate(written);
            }

            @Override
            public boolean isXml() {
                return true;
            }
        }));
    }

    private Runner whole(FlowCompiler c) {
        Optional<Expression> value = c.expression(from, "from", "Say what is answered.");
        if (value.isEmpty()) {
            return Runner.NONE;
        }
        Reply.Form form = new Reply.Form(c.fieldsOf(from), false);
        c.replies(form);
        return frame -> {
            List<Node> found = frame.nodes(value.get(), "the reply");
            if (found.size() != 1) {
                throw Failure.of(
                        "not one record", "the reply is " + from + ", which gives " + found.size() + " instead of one");
            }
            frame.reply(new Reply(form, found));
            frame.note("1 record");
        };
    }

    private Runner picked(FlowCompiler c) {
        Pick pick = Pick.compile(new Pick.Definition(from, columns), c.expressions());
        pick.problems().forEach(c::problem);
        if (columns.isEmpty()) {
            c.problem("Put at least one field into the reply.");
        }
        Reply.Form form = new Reply.Form(columns.stream().map(ReplyStep::field).toList(), from != null);
        c.replies(form);
        return frame -> {
            Pick.Picked picked = pick.run(frame.scope());
            if (!picked.problems().isEmpty()) {
                throw Failure.of(picked.problems().get(0));
            }
            frame.reply(new Reply(form, picked.records()));
            frame.note(
                    picked.records().size() == 1 ? "1 record" : picked.records().size() + " records");
        };
    }

    private static Field field(Pick.Column c) {
        String name = c.name() == null ? "" : c.name();
        return Field.of(FieldNames.name(name), name, c.type() == null ? "string" : c.type());
    }
}
