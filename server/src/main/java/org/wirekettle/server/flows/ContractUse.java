package org.wirekettle.server.flows;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.transaction.Transactional;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Comparison;
import org.wirekettle.contract.Contract;
import org.wirekettle.flow.CallStep;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.OperationRef;
import org.wirekettle.flow.PickStep;
import org.wirekettle.flow.ReceiveStep;
import org.wirekettle.flow.ReplyStep;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.StepKind;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Pick;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.contracts.Contracts;

/** Which flows use a contract, in which version; what a new version does to them, and taking it. */
@ApplicationScoped
public class ContractUse {
    private final FlowMapper rows;
    private final Contracts contracts;
    private final Json json;
    private final Caller caller;

    ContractUse(FlowMapper rows, Contracts contracts, Json json, Caller caller) {
        this.caller = caller;
        this.rows = rows;
        this.contracts = contracts;
        this.json = json;
    }

    /** A step that calls an operation, or receives its request. @param step its number in the outline, from 1 */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Use(
            String contract,
            Integer version,
            long flow,
            String name,
            int step,
            @Nullable String operation) {}

    /**
     * A change that touches a flow.
     *
     * @param where fill, pick, receive or reply
     * @param row the rule's row or the column concerned
     */
    public record Touched(String where, String row, Comparison.Change change) {}

    /** A use with what the new version does to it. */
    public record Affected(Use use, List<Touched> touched, List<Comparison.Rename> renames) {}

    public List<Use> all() {
        List<Use> out = new ArrayList<>();
        for (FlowMapper.Row r : rows.list()) {
            for (Named n : named(r)) {
                out.add(use(r, n));
            }
        }
        return out;
    }

    /**
     * A step that names an operation.
     *
     * @param number in the outline
     * @param after what comes after it
     */
    private record Named(
            StepKind step,
            String contract,
            @Nullable Integer version,
            @Nullable String port,
            @Nullable String operation,
            int number,
            List<Step> after) {}

    private List<Named> named(FlowMapper.Row r) {
        List<Step> steps = json.read(r.definition, Flow.class).all().toList();
        List<Named> out = new ArrayList<>();
        for (int i = 0; i < steps.size(); i++) {
            List<Step> after = steps.subList(i + 1, steps.size());
            StepKind kind = steps.get(i).kind();
            if (kind instanceof CallStep c && c.contract() != null) {
                out.add(new Named(c, c.contract(), c.version(), c.port(), c.operation(), i + 1, after));
            } else if (kind instanceof ReceiveStep s && s.request() != null) {
                OperationRef of = s.request();
                out.add(new Named(s, of.contract(), of.version(), of.port(), of.operation(), i + 1, after));
            }
        }
        return out;
    }

    private static Use use(FlowMapper.Row r, Named n) {
        return new Use(n.contract, n.version, r.id, r.name, n.number, n.operation);
    }

    /** Gives every call step the version it was made for, so that later versions leave it alone. */
    Flow pinned(Flow flow, Flow before) {
        return flow.map(s -> {
            if (s.kind() instanceof ReceiveStep r
                    && r.request() != null
                    && r.request().version() == null) {
                return s.doing(r.withVersion(
                        contracts.currentVersion(r.request().contract()).orElse(null)));
            }
            if (!(s.kind() instanceof CallStep c) || c.contract() == null || c.version() != null) {
                return s;
            }
            Optional<Integer> known = before.all()
                    .map(Step::kind)
                    .filter(CallStep.class::isInstance)
                    .map(CallStep.class::cast)
                    .filter(o -> c.contract().equals(o.contract()) && Objects.equals(c.operation(), o.operation()))
                    .map(CallStep::version)
                    .filter(Objects::nonNull)
                    .findFirst();
            return s.doing(c.withVersion(
                    known.or(() -> contracts.currentVersion(c.contract())).orElse(null)));
        });
    }

    /**
     * The flows that are not made for that version, with what lies between theirs and it.
     *
     * @param to the version's number; -1 when it is none yet
     */
    List<Affected> affected(String contract, int to, Contract target) {
        List<Affected> out = new ArrayList<>();
        for (FlowMapper.Row r : rows.list()) {
            for (Named n : named(r)) {
                if (contract.equals(n.contract) && !Objects.equals(n.version, to)) {
                    Comparison.Result result =
                            Comparison.forCallers(contracts.get(contract, n.version), target, n.port, n.operation);
                    List<Touched> touched = n.step instanceof CallStep c
                            ? touched(c, n.after, result)
                            : answered(n.operation, n.after, result);
                    out.add(new Affected(use(r, n), touched, result.renames()));
                }
            }
        }
        return out;
    }

    private static List<Touched> touched(CallStep call, List<Step> after, Comparison.Result result) {
        List<Touched> out = new ArrayList<>();
        for (Comparison.Change change : result.changes()) {
            if (change.path() == null) {
                if (change.isBreaking()) {
                    out.add(new Touched("call", call.operation(), change));
                }
            } else if ("request".equals(change.part())) {
                filled(call, change, out);
            } else {
                picked(after, change, out);
            }
        }
        return out;
    }

    /** Of a flow that answers: what it receives, and what it fills. */
    private static List<Touched> answered(String operation, List<Step> after, Comparison.Result result) {
        List<Touched> out = new ArrayList<>();
        List<Rule> rules = after.stream()
                .map(Step::kind)
                .filter(ReplyStep.class::isInstance)
                .map(ReplyStep.class::cast)
                .filter(r -> r.fault() == null && r.fill() != null)
                .flatMap(r -> r.fill().stream())
                .toList();
        for (Comparison.Change change : result.changes()) {
            if (change.path() == null) {
                if (change.isBreaking()) {
                    out.add(new Touched("receive", operation, change));
                }
            } else if ("request".equals(change.part())) {
                // What is new need not be looked at; what is gone, or another, may be in any expression.
                if (change.kind() != Comparison.Kind.ADDED) {
                    out.add(new Touched("receive", change.path(), change));
                }
            } else if ("answer".equals(change.part())) {
                filled("reply", rules, change, change.kind() == Comparison.Kind.ADDED, out);
            }
        }
        return out;
    }

    private static void filled(CallStep call, Comparison.Change change, List<Touched> out) {
        List<Rule> rules = call.fill() == null ? List.of() : call.fill();
        filled("fill", rules, change, change.isBreaking() && change.kind() != Comparison.Kind.REMOVED, out);
    }

    /** @param mayBeNeeded whether a row nobody filled may have to be now */
    private static void filled(
            String where, List<Rule> rules, Comparison.Change change, boolean mayBeNeeded, List<Touched> out) {
        String path = change.path();
        List<Rule> on = rules.stream()
                .filter(r -> plain(r.path()).equals(path) || plain(r.path()).startsWith(path + "/"))
                .toList();
        on.forEach(r -> out.add(new Touched(where, r.path(), change)));
        if (on.isEmpty() && mayBeNeeded) {
            // A row nobody filled, which now has to be; within an optional element that is not sent, it has not.
            String parent = path.contains("/") ? path.substring(0, path.lastIndexOf('/')) : path;
            if (rules.stream().anyMatch(r -> plain(r.path()).startsWith(parent + "/"))) {
                out.add(new Touched(where, path, change));
            }
        }
    }

    private static String plain(String path) {
        return path.replaceAll("\\[\\d+\\]", "");
    }

    private static void picked(List<Step> after, Comparison.Change change, List<Touched> out) {
        String field =
                change.path().substring(change.path().lastIndexOf('/') + 1).replaceAll("^@|#\\d+$", "");
        Pattern named = word(field);
        for (Step s : after) {
            if (s.kind() instanceof CallStep) {
                return;
            }
            if (s.kind() instanceof PickStep p) {
                p.kinds().forEach(kind -> picked(kind, named, change, out));
            }
        }
    }

    private static void picked(PickStep.RecordKind kind, Pattern named, Comparison.Change change, List<Touched> out) {
        if (kind.each() != null && named.matcher(kind.each()).find()) {
            out.add(new Touched("pick", "what one record is", change));
        }
        for (Pick.Column c : kind.columns() == null ? List.<Pick.Column>of() : kind.columns()) {
            if (c.xpath() != null && named.matcher(c.xpath()).find()) {
                out.add(new Touched("pick", c.name(), change));
            }
        }
    }

    private static Pattern word(String name) {
        return Pattern.compile("(?<![\\w.-])" + Pattern.quote(name) + "(?![\\w-])");
    }

    /**
     * Moves a flow to a version.
     *
     * @param renames fields whose new names its fill and picks take
     */
    @Transactional
    void take(String contract, int version, long flow, List<Comparison.Rename> renames) {
        FlowMapper.Row row = rows.get(flow);
        if (row == null) {
            throw Wrong.notFound("flow", flow);
        }
        contracts.get(contract, version);
        boolean[] follows = {false};
        String[] answered = {null};
        Flow moved = json.read(row.definition, Flow.class).map(s -> {
            if (s.kind() instanceof CallStep c) {
                follows[0] = contract.equals(c.contract());
                return follows[0] ? s.doing(renamed(c.withVersion(version), renames)) : s;
            }
            if (s.kind() instanceof ReceiveStep r && r.request() != null) {
                boolean isOf = contract.equals(r.request().contract());
                answered[0] = isOf ? r.request().operation() : null;
                return isOf ? s.doing(r.withVersion(version)) : s;
            }
            if (s.kind() instanceof ReplyStep r && r.fault() == null && r.fill() != null && answered[0] != null) {
                return s.doing(r.withFill(renamed(
                        r.fill(),
                        renames,
                        n -> n.part().equals("answer") && n.operation().equals(answered[0]))));
            }
            return follows[0] && s.kind() instanceof PickStep p ? s.doing(p.each(kind -> renamed(kind, renames))) : s;
        });
        if (rows.update(flow, row.version, row.name, json.write(moved), caller.name()) == 0) {
            throw Wrong.conflict("flow.version", "The flow " + row.name + " was changed meanwhile; try again.");
        }
    }

    private static CallStep renamed(CallStep c, List<Comparison.Rename> renames) {
        List<Rule> rules = c.fill() == null ? List.of() : c.fill();
        return c.withFill(renamed(
                rules, renames, n -> n.part().equals("request") && n.operation().equals(c.operation())));
    }

    private static List<Rule> renamed(
            List<Rule> rules, List<Comparison.Rename> renames, Predicate<Comparison.Rename> isOf) {
        List<Rule> out = new ArrayList<>(rules);
        renames.stream()
                .filter(isOf)
                .forEach(n -> out.replaceAll(r -> r.path().equals(n.from())
                                || r.path().startsWith(n.from() + "/")
                                || r.path().startsWith(n.from() + "[")
                        ? r.at(n.to() + r.path().substring(n.from().length()))
                        : r));
        return out;
    }

    private static PickStep.RecordKind renamed(PickStep.RecordKind p, List<Comparison.Rename> renames) {
        String each = p.each();
        List<Pick.Column> columns = new ArrayList<>(p.columns() == null ? List.of() : p.columns());
        for (Comparison.Rename n : renames) {
            if (n.part().equals("answer")) {
                Pattern old =
                        word(n.from().substring(n.from().lastIndexOf('/') + 1).replaceAll("^@", ""));
                String now = n.to().substring(n.to().lastIndexOf('/') + 1).replaceAll("^@", "");
                each = each == null ? null : old.matcher(each).replaceAll(now);
                columns.replaceAll(c -> c.xpath() == null
                        ? c
                        : new Pick.Column(c.name(), old.matcher(c.xpath()).replaceAll(now), c.text(), c.type()));
            }
        }
        return new PickStep.RecordKind(p.as(), each, columns);
    }
}
