package org.wirekettle.contract;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Contract.Port;

/**
 * What changed between two versions of a contract, each change rated by whether callers of the old one can break. Used
 * once.
 */
public final class Comparison {
    /** Changes listed; more are counted. */
    public static final int MAX_CHANGES = 2_000;

    private final List<Change> changes = new ArrayList<>();
    /** Where in {@link #changes} a change of a shared type stands, and how often it was met again. */
    private final Map<String, Integer> known = new HashMap<>();

    private final Map<Integer, Integer> repeats = new HashMap<>();
    private final List<Rename> renames = new ArrayList<>();
    private final Set<String> comparedInRequests = new HashSet<>();
    private final Set<String> comparedInAnswers = new HashSet<>();
    private int left;

    private Comparison() {}

    /** What became of something. */
    public enum Kind {
        ADDED,
        REMOVED,
        CHANGED
    }

    /**
     * One change.
     *
     * @param what service, port, operation, address, action, style, field, type, occurs, nil, values, limits, fixed
     *     value or requirement
     * @param port where; null when the change is to a service
     * @param operation null when the change is to a whole port
     * @param part {@code request}, {@code answer} or {@code fault:Name}; null for an operation itself
     * @param path the row, as mapping rules name it; null for what is no field
     * @param isBreaking whether what fitted the old version may not fit the new one
     * @param why the rating, in words
     * @param alsoIn further places with the same change of the same type
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Change(
            Kind kind,
            String what,
            @Nullable String port,
            @Nullable String operation,
            @Nullable String part,
            @Nullable String path,
            @Nullable String before,
            @Nullable String after,
            boolean isBreaking,
            @Nullable String why,
            int alsoIn) {
        Change alsoIn(int places) {
            return new Change(kind, what, port, operation, part, path, before, after, isBreaking, why, places);
        }
    }

    /** A field that is gone and one that came in its place: probably the same under another name. */
    public record Rename(String operation, String part, String from, String to, String why) {}

    /** @param notListed changes beyond {@link #MAX_CHANGES} */
    public record Result(List<Change> changes, List<Rename> renames, int notListed) {
        public boolean isSame() {
            return changes.isEmpty();
        }
    }

    public static Result of(Contract before, Contract after) {
        Comparison c = new Comparison();
        c.ports(before, after);
        return c.result();
    }

    /** What changed for callers of one operation. @param port null for the first that can be called */
    public static Result forCallers(Contract before, Contract after, String port, String operation) {
        Comparison c = new Comparison();
        before.port(port).ifPresent(p -> after.ports().stream()
                .filter(q -> q.name().equals(p.name()))
                .findFirst()
                .ifPresentOrElse(q -> c.port(only(p, operation), only(q, operation)), () -> c.add(gone(p), null)));
        return c.result();
    }

    private static Change gone(Port p) {
        return new Change(
                Kind.REMOVED,
                "port",
                p.name(),
                null,
                null,
                null,
                p.protocol().label(),
                null,
                true,
                "Calls to it have nowhere to go.",
                0);
    }

    private static Port only(Port p, String operation) {
        return new Port(
                p.name(),
                p.binding(),
                p.protocol(),
                p.address(),
                p.operations().stream().filter(o -> o.name().equals(operation)).toList(),
                p.requirements());
    }

    private Result result() {
        List<Change> out = new ArrayList<>();
        for (int i = 0; i < changes.size(); i++) {
            out.add(changes.get(i).alsoIn(repeats.getOrDefault(i, 0)));
        }
        return new Result(List.copyOf(out), renames.stream().distinct().toList(), left);
    }

    private void ports(Contract before, Contract after) {
        Map<String, Port> old = byName(before.ports(), Port::name);
        Map<String, Port> now = byName(after.ports(), Port::name);
        old.forEach((name, p) -> {
            Port q = now.get(name);
            if (q == null) {
                add(gone(p), null);
            } else {
                port(p, q);
            }
        });
        now.forEach((name, p) -> {
            if (!old.containsKey(name)) {
                add(
                        new Change(
                                Kind.ADDED,
                                "port",
                                name,
                                null,
                                null,
                                null,
                                null,
                                p.protocol().label(),
                                false,
                                "Nothing calls it yet.",
                                0),
                        null);
            }
        });
    }

    private static <T> Map<String, T> byName(List<T> all, Function<T, String> name) {
        return all.stream().collect(Collectors.toMap(name, t -> t, (a, b) -> a, LinkedHashMap::new));
    }

    private void port(Port p, Port q) {
        if (!Objects.equals(p.address(), q.address())) {
            add(
                    new Change(
                            Kind.CHANGED,
                            "address",
                            p.name(),
                            null,
                            null,
                            null,
                            p.address(),
                            q.address(),
                            false,
                            "Connections hold the address; look whether theirs should follow.",
                            0),
                    null);
        }
        if (p.protocol() != q.protocol()) {
            add(
                    new Change(
                            Kind.CHANGED,
                            "protocol",
                            p.name(),
                            null,
                            null,
                            null,
                            p.protocol().label(),
                            q.protocol().label(),
                            true,
                            "The envelope differs.",
                            0),
                    null);
        }
        requirements(p, q);
        Map<String, Operation> old = byName(p.operations(), Operation::name);
        Map<String, Operation> now = byName(q.operations(), Operation::name);
        old.forEach((name, o) -> {
            Operation n = now.get(name);
            if (n == null) {
                add(
                        new Change(
                                Kind.REMOVED,
                                "operation",
                                p.name(),
                                name,
                                null,
                                null,
                                null,
                                null,
                                true,
                                "It can no longer be called.",
                                0),
                        null);
            } else {
                operation(p.name(), o, n);
            }
        });
        now.keySet().stream()
                .filter(name -> !old.containsKey(name))
                .forEach(name -> add(
                        new Change(
                                Kind.ADDED,
                                "operation",
                                p.name(),
                                name,
                                null,
                                null,
                                null,
                                null,
                                false,
                                "Nothing calls it yet.",
                                0),
                        null));
    }

    private void requirements(Port p, Port q) {
        Map<String, Contract.Requirement> old = byName(p.requirements(), Contract.Requirement::text);
        q.requirements().stream()
                .filter(r -> !old.containsKey(r.text()))
                .forEach(r -> add(
                        new Change(
                                Kind.ADDED,
                                "requirement",
                                p.name(),
                                null,
                                null,
                                null,
                                null,
                                r.text(),
                                !r.isOptional(),
                                r.isOptional() ? "It is optional." : "Calls without it may be refused.",
                                0),
                        null));
        Map<String, Contract.Requirement> now = byName(q.requirements(), Contract.Requirement::text);
        p.requirements().stream()
                .filter(r -> !now.containsKey(r.text()))
                .forEach(r -> add(
                        new Change(
                                Kind.REMOVED,
                                "requirement",
                                p.name(),
                                null,
                                null,
                                null,
                                r.text(),
                                null,
                                false,
                                "It is asked no more.",
                                0),
                        null));
    }

    private static String line(Operation o) {
        return o.http() == null ? "" : o.http().method() + " " + o.http().path();
    }

    private static String body(Operation o) {
        return o.http() == null || o.http().body() == null
                ? ""
                : o.http().body().mediaType();
    }

    private void operation(String port, Operation o, Operation n) {
        changed(
                port,
                o,
                "style",
                o.style() + "/" + o.use(),
                n.style() + "/" + n.use(),
                "Messages are built differently.");
        changed(
                port,
                o,
                "action",
                o.action(),
                n.action(),
                "Services choose the operation by it; flows send the new one once they take this version.");
        changed(
                port,
                o,
                "direction",
                String.valueOf(o.direction()),
                String.valueOf(n.direction()),
                "Whether an answer comes has changed.");
        changed(port, o, "method and path", line(o), line(n), "Flows ask for the new one once they take this version.");
        changed(port, o, "form of the body", body(o), body(n), "Messages are written differently.");
        if (o.isUsable() != n.isUsable()) {
            add(
                    new Change(
                            Kind.CHANGED,
                            "usable",
                            port,
                            o.name(),
                            null,
                            null,
                            o.isUsable() ? "can be called" : o.unusable(),
                            n.isUsable() ? "can be called" : n.unusable(),
                            !n.isUsable(),
                            n.isUsable() ? "It can be called now." : "It can no longer be called.",
                            0),
                    null);
        }
        part(port, o.name(), "request", true, o.request(), n.request());
        part(port, o.name(), "answer", false, o.answer(), n.answer());
        Map<String, Operation.DeclaredFault> old = byName(o.faults(), Operation.DeclaredFault::name);
        Map<String, Operation.DeclaredFault> now = byName(n.faults(), Operation.DeclaredFault::name);
        old.forEach((name, f) -> {
            if (now.containsKey(name)) {
                fields(port, o.name(), "fault:" + name, false)
                        .compare(f.detail(), now.get(name).detail(), f.detail().name());
            } else {
                add(
                        new Change(
                                Kind.REMOVED,
                                "fault",
                                port,
                                o.name(),
                                null,
                                null,
                                name,
                                null,
                                false,
                                "It is no longer declared.",
                                0),
                        null);
            }
        });
        now.keySet().stream()
                .filter(name -> !old.containsKey(name))
                .forEach(name -> add(
                        new Change(
                                Kind.ADDED,
                                "fault",
                                port,
                                o.name(),
                                null,
                                null,
                                null,
                                name,
                                false,
                                "Records with it are set aside like those with any fault.",
                                0),
                        null));
    }

    private void changed(String port, Operation o, String what, String before, String after, String why) {
        if (!before.equals(after)) {
            add(new Change(Kind.CHANGED, what, port, o.name(), null, null, before, after, true, why, 0), null);
        }
    }

    private void part(
            String port,
            String operation,
            String part,
            boolean isRequest,
            Operation.Message before,
            Operation.Message after) {
        if (before != null && after != null) {
            fields(port, operation, part, isRequest).roots(before.root(), after.root());
        }
    }

    private ShapeComparison fields(String port, String operation, String part, boolean isRequest) {
        return new ShapeComparison(
                isRequest,
                isRequest ? comparedInRequests : comparedInAnswers,
                (change, type) -> add(change.at(port, operation, part), type),
                r -> renames.add(new Rename(operation, part, r.from(), r.to(), r.why())));
    }

    /**
     * A type that many messages share changes once, and so does an operation that several ports offer; the other places
     * are counted.
     */
    private void add(Change c, String type) {
        String where = c.operation == null
                ? c.port
                : type == null
                        ? c.operation + " " + c.part + " " + c.path
                        : type + " " + c.path.substring(c.path.lastIndexOf('/') + 1);
        Integer first =
                known.putIfAbsent(where + " " + c.kind + c.what + c.before + c.after + c.isBreaking, changes.size());
        if (first != null) {
            repeats.merge(first, 1, Integer::sum);
            return;
        }
        if (changes.size() >= MAX_CHANGES) {
            left++;
            return;
        }
        changes.add(c);
    }

    /** The change of a row, before its place in the contract is known. */
    record FieldChange(
            Kind kind, String what, String path, String before, String after, boolean isBreaking, String why) {
        Change at(String port, String operation, String part) {
            return new Change(kind, what, port, operation, part, path, before, after, isBreaking, why, 0);
        }
    }

    record FieldRename(String from, String to, String why) {}
}
