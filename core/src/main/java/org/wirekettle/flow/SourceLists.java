package org.wirekettle.flow;

import java.io.IOException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.ValueLists;
import org.wirekettle.record.NodeBytes;

/** The sources of a project as lists that values are looked up in; each is read once, when it is first asked. */
final class SourceLists implements ValueLists {
    private final Project project;
    private final SourceIndex.Room room;
    private final Map<List<String>, SourceIndex> indexes = new HashMap<>();

    SourceLists(Project project, SourceIndex.Room room) {
        this.project = project;
        this.room = room;
    }

    @Override
    public synchronized ValueList find(String source, String key, String value) throws NoList {
        Optional<RecordSource> found = project.source(source);
        if (found.isEmpty()) {
            throw new NoList("there is no source named " + source + " to look it up in");
        }
        try {
            List<Field> fields = found.get().fields();
            for (String field : new String[] {key, value}) {
                if (field == null || fields.stream().noneMatch(f -> f.name().equals(field))) {
                    throw new NoList(
                            field == null
                                    ? "say which fields of " + source + " are looked up and given"
                                    : "the source " + source + " has no field " + field);
                }
            }
        } catch (IOException e) {
            throw new NoList("the source " + source + " cannot be read: " + e.getMessage());
        }
        SourceIndex index = indexes.computeIfAbsent(
                List.of(source, key), k -> new SourceIndex(source, found.get(), List.of(key), room));
        return wanted -> {
            try {
                return index.find(List.of(wanted)).stream()
                        .map(row -> NodeBytes.read(row).child(value))
                        .map(v -> v == null ? "" : v.string())
                        .distinct()
                        .toList();
            } catch (Failure e) {
                throw new EvaluationFailed(e.getMessage());
            }
        };
    }
}
