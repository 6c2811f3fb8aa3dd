package org.wirekettle.server.connections;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What is kept of a connection: settings that all environments share, and of each environment those that differ there.
 * Immutable.
 */
public record ConnectionSettings(Settings common, Map<String, Settings> environments) {
    /** Of settings that other code may add to: what is null is left out of what is written. */
    private static final ObjectMapper JSON = new ObjectMapper();

    public ConnectionSettings {
        common = common == null ? empty() : common;
        environments = environments == null ? new LinkedHashMap<>() : new LinkedHashMap<>(environments);
    }

    private static Settings empty() {
        return JSON.convertValue(JSON.createObjectNode(), Settings.class);
    }

    /** The environment's, and where it says nothing those of all. */
    public Settings in(String environment) {
        return with(common, JSON.valueToTree(environments.getOrDefault(environment, empty())));
    }

    /** @param environment null or empty for the first there is */
    public Optional<String> named(@Nullable String environment) {
        return environment == null || environment.isBlank()
                ? environments.keySet().stream().findFirst()
                : Optional.of(environment).filter(environments::containsKey);
    }

    /** The same, with one field of one environment changed. */
    ConnectionSettings changing(String environment, String field, Object value) {
        ObjectNode change = JSON.createObjectNode();
        change.set(field, JSON.valueToTree(value));
        Map<String, Settings> all = new LinkedHashMap<>(environments);
        all.put(environment, with(all.getOrDefault(environment, empty()), change));
        return new ConnectionSettings(common, all);
    }

    /** The same, with one field of all environments changed. */
    ConnectionSettings changing(String field, Object value) {
        ObjectNode change = JSON.createObjectNode();
        change.set(field, JSON.valueToTree(value));
        return new ConnectionSettings(with(common, change), environments);
    }

    private static Settings with(Settings these, JsonNode change) {
        ObjectNode all = JSON.valueToTree(these);
        change.fields().forEachRemaining(f -> all.set(f.getKey(), f.getValue()));
        return JSON.convertValue(all, Settings.class);
    }
}
