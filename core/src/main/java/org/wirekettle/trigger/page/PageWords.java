package org.wirekettle.trigger.page;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.FailureCode;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.expression.TextTemplate;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Reply;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
import org.wirekettle.trigger.ReplyText;
import org.wirekettle.trigger.page.PageAnswer.Outcome;
import org.wirekettle.trigger.page.PageAnswer.PageNotice;

/** What a page says of how it ended: its owner's texts, and plain ones where there are none. Immutable. */
final class PageWords {
    private static final String DONE = "Done";

    private final List<PageFailure> failures;
    private final @Nullable TextTemplate title;
    private final @Nullable TextTemplate text;
    private final List<Note> notes;
    private final Set<String> unseen;

    /** What is said where something holds. */
    private record Note(
            Expression when, TextTemplate title, @Nullable TextTemplate text) {}

    private PageWords(
            List<PageFailure> failures, TextTemplate title, TextTemplate text, List<Note> notes, Set<String> unseen) {
        this.unseen = unseen;
        this.failures = failures;
        this.title = title;
        this.text = text;
        this.notes = notes;
    }

    /**
     * Compiles the texts of a page.
     *
     * @param unseen paths of fields of the reply that do not leave the server
     * @throws org.wirekettle.problem.Refused with the expression that does not compile
     */
    static PageWords of(PageTrigger t, Expressions engine, Set<String> unseen) {
        Expressions known = engine.knowing(List.of("record", "reply", "input"));
        PageResult r = t.result();
        List<Note> notes = r.notes().stream()
                .map(n -> new Note(
                        expression(known, n.when(), "notes"),
                        template(known, n.title(), "notes"),
                        template(known, n.text(), "notes")))
                .toList();
        return new PageWords(
                t.failures(), template(known, r.title(), "title"), template(known, r.text(), "text"), notes, unseen);
    }

    private static Expression expression(Expressions known, String xpath, String what) {
        try {
            return known.compile(xpath);
        } catch (ExpressionFault e) {
            throw PageTrigger.refused("result." + what, "“" + xpath + "” does not compile: " + e.getMessage());
        }
    }

    private static TextTemplate template(Expressions known, String text, String what) {
        if (text == null || text.isBlank()) {
            return null;
        }
        try {
            return TextTemplate.of(text, xpath -> Optional.of(expression(known, xpath, what)));
        } catch (IllegalArgumentException e) {
            throw PageTrigger.refused("result." + what, e.getMessage());
        }
    }

    /** @param form null for a flow that answers nothing */
    PageAnswer done(Trail trail, Reply.@Nullable Form form, long run) {
        Reply reply = trail.reply();
        Node root = root(reply);
        Scope scope = Scope.of(root).with("reply", root).with("input", trail.source());
        List<PageNotice> said = new ArrayList<>();
        for (Note n : notes) {
            if (holds(n.when, scope)) {
                said.add(new PageNotice(
                        n.title.withoutReasons(scope), n.text == null ? null : n.text.withoutReasons(scope)));
            }
        }
        return new PageAnswer(
                Outcome.DONE,
                title == null ? DONE : title.withoutReasons(scope),
                text == null ? null : text.withoutReasons(scope),
                said.isEmpty() ? null : said,
                reply == null || form == null ? null : new String(ReplyText.json(seen(reply)), StandardCharsets.UTF_8),
                null,
                reference(trail, run));
    }

    private Reply seen(Reply reply) {
        return unseen.isEmpty()
                ? reply
                : new Reply(
                        reply.form(),
                        reply.records().stream().map(r -> seen(r, "")).toList());
    }

    private Node seen(Node n, String at) {
        if (n.isLeaf()) {
            return n.copy();
        }
        Node out = new Node(n.namespace(), n.name());
        n.attributes().forEach(a -> out.addAttribute(a.copy()));
        for (Node c : n.children()) {
            if (!unseen.contains(at + c.name())) {
                out.add(seen(c, at + c.name() + "/"));
            }
        }
        return out;
    }

    /** What expressions look at: the record of the reply, or all of them in one. */
    private static Node root(Reply reply) {
        if (reply != null && !reply.form().isList() && !reply.records().isEmpty()) {
            return reply.records().get(0);
        }
        Node all = new Node("", "reply");
        if (reply != null) {
            reply.records().forEach(r -> all.add(r.copy("record")));
        }
        return all;
    }

    private static boolean holds(Expression when, Scope scope) {
        try {
            return when.test(scope);
        } catch (EvaluationFailed e) {
            return false;
        }
    }

    PageAnswer failed(Trail trail, long run) {
        String code = trail.code() == null ? "" : trail.code();
        boolean isUnknown = trail.fate() == Fate.IN_DOUBT;
        PageFailure said = failures.stream()
                .filter(f -> f.codes().isEmpty() || FailureCode.isAmong(f.codes(), code))
                .findFirst()
                .orElseGet(() -> usual(code, isUnknown));
        return new PageAnswer(
                isUnknown ? Outcome.UNKNOWN : Outcome.FAILED,
                said.title(),
                said.text(),
                null,
                null,
                null,
                reference(trail, run));
    }

    private static PageFailure usual(String code, boolean isUnknown) {
        if (isUnknown) {
            return new PageFailure(
                    null, "What came of it is not known.", "Find out whether it was done before you try again.");
        }
        boolean isAway =
                FailureCode.isAmong(List.of(FailureCode.UNREACHABLE.code(), FailureCode.NO_ANSWER.code()), code);
        return isAway
                ? new PageFailure(null, "It cannot be done at the moment.", "Try again in a few minutes.")
                : new PageFailure(null, "It could not be done.", null);
    }

    private static String reference(Trail trail, long run) {
        return run + "-" + trail.number();
    }
}
