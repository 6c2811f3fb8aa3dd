package org.wirekettle.server.data;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.wirekettle.server.common.InUse;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Wrong;

/**
 * The sources, or the targets, of the project: named, each of a kind with its settings, not removed while in use.
 *
 * @param <S> their settings
 */
final class Definitions<S> {
    private final String what;
    private final Class<S> settings;
    private final DefinitionMapper rows;
    private final Json json;
    private final Function<String, List<String>> users;

    /** One definition. @param text its settings as they are kept */
    record Definition<S>(String name, String kind, S settings, String text) {}

    /** @param what {@code source} or {@code target}; also the table's name */
    Definitions(
            String what, Class<S> settings, DefinitionMapper rows, Json json, Function<String, List<String>> users) {
        this.what = what;
        this.settings = settings;
        this.rows = rows;
        this.json = json;
        this.users = users;
    }

    List<Definition<S>> list() {
        return rows.list(what).stream().map(this::definition).toList();
    }

    private Definition<S> definition(DefinitionMapper.Row r) {
        return new Definition<>(r.name, r.kind, json.read(r.settings, settings), r.settings);
    }

    Optional<Definition<S>> find(String name) {
        return Optional.ofNullable(name).map(n -> rows.get(what, n)).map(this::definition);
    }

    /** @throws Wrong when there is none of that name */
    Definition<S> get(String name) {
        return find(name).orElseThrow(() -> Wrong.notFound(what, name));
    }

    void put(String name, String kind, S value) {
        Names.check(name, "data.name");
        rows.put(what, name, kind, json.write(value));
    }

    void remove(String name) {
        InUse.remove(what, name, users.apply(name), () -> rows.delete(what, name));
    }
}
