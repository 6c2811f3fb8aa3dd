package org.wirekettle.server.contracts;

import jakarta.enterprise.context.ApplicationScoped;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.server.contracts.ContractResource.Hit;
import org.wirekettle.shape.Shape;

/**
 * Finds rows of a contract's messages by name and documentation. A contract is walked once, each type once a message.
 */
@ApplicationScoped
public class FieldSearch {
    /** Rows of one message, and of one contract. */
    private static final int MAX_MESSAGE_ROWS = 4_000;

    private static final int MAX_ROWS = 200_000;
    private static final int MAX_HITS = 100;
    private static final int MAX_CONTRACTS = 8;

    /** A row and the text it is found by. */
    private record Entry(Hit hit, String text) {}

    private final Map<String, List<Entry>> indexes = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, List<Entry>> eldest) {
            return size() > MAX_CONTRACTS;
        }
    };

    List<Hit> search(String name, int version, Contract contract, String text) {
        List<Entry> index;
        synchronized (indexes) {
            index = indexes.computeIfAbsent(name + "@" + version, k -> index(contract));
        }
        String wanted = text.toLowerCase(Locale.ROOT);
        return index.stream()
                .filter(e -> e.text.contains(wanted))
                .limit(MAX_HITS)
                .map(Entry::hit)
                .toList();
    }

    private static List<Entry> index(Contract contract) {
        List<Entry> out = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        for (Contract.Port p : contract.ports()) {
            for (Operation o : p.operations()) {
                // Ports that offer the same operations would list every field again.
                if (o.isUsable() && seen.add(o.name())) {
                    message(p, o, "request", o.request(), out);
                    message(p, o, "answer", o.answer(), out);
                    o.faults().stream()
                            .filter(f -> !f.isInHeader())
                            .forEach(f -> walk(
                                    new Hit(p.name(), o.name(), "fault:" + f.name(), null, null, null),
                                    f.detail(),
                                    f.detail().name(),
                                    new HashSet<>(),
                                    out,
                                    out.size() + MAX_MESSAGE_ROWS));
                }
            }
        }
        return out;
    }

    private static void message(Contract.Port p, Operation o, String part, Operation.Message m, List<Entry> out) {
        if (m != null) {
            Set<Object> types = new HashSet<>();
            int limit = Math.min(MAX_ROWS, out.size() + MAX_MESSAGE_ROWS);
            m.root()
                    .segments()
                    .forEach((segment, s) ->
                            walk(new Hit(p.name(), o.name(), part, null, null, null), s, segment, types, out, limit));
        }
    }

    private static void walk(Hit where, Shape s, String path, Set<Object> types, List<Entry> out, int limit) {
        if (out.size() >= limit) {
            return;
        }
        if (s.kind() == Shape.Kind.ELEMENT || s.kind() == Shape.Kind.ATTRIBUTE) {
            String documentation = s.documentation();
            out.add(new Entry(
                    new Hit(where.port(), where.operation(), where.part(), path, documentation, where.kinds()),
                    (s.name() + "\n" + (documentation == null ? "" : documentation)).toLowerCase(Locale.ROOT)));
        }
        if (s.type() == null || types.add(s.type())) {
            s.segments().forEach((segment, child) -> walk(where, child, path + "/" + segment, types, out, limit));
            kinds(where, s, path, types, out, limit);
        }
    }

    /** What only a derived type or a substitute has, once for each of them. */
    private static void kinds(Hit where, Shape s, String path, Set<Object> types, List<Entry> out, int limit) {
        if (s.kind() != Shape.Kind.ELEMENT) {
            return;
        }
        for (int i = 0; i < s.variants().size() && out.size() < limit; i++) {
            Shape.Variant v = s.variants().get(i);
            if (types.add(v.name())) {
                Map<String, String> kinds = new LinkedHashMap<>(where.kinds() == null ? Map.of() : where.kinds());
                kinds.put(path, v.name().toString());
                Hit at = new Hit(where.port(), where.operation(), where.part(), null, null, kinds);
                Set<String> inherited = s.segments().keySet();
                v.shape().get().segments().forEach((segment, child) -> {
                    if (!inherited.contains(segment)) {
                        walk(at, child, path + "/" + segment, types, out, limit);
                    }
                });
            }
        }
    }
}
