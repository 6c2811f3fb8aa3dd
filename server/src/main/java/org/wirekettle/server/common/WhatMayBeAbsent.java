package org.wirekettle.server.common;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import io.quarkus.smallrye.openapi.OpenApiFilter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.eclipse.microprofile.openapi.OASFilter;
import org.eclipse.microprofile.openapi.models.OpenAPI;
import org.eclipse.microprofile.openapi.models.media.Schema;
import org.jboss.jandex.ClassInfo;
import org.jboss.jandex.DotName;
import org.jboss.jandex.IndexView;
import org.jboss.jandex.RecordComponentInfo;
import org.jboss.jandex.Type;
import org.jspecify.annotations.Nullable;

/**
 * Says in the API's description which properties are always there: all but those whose record component is
 * {@link Nullable}, or of a boxed type. So the pages' types need no guesses.
 */
@OpenApiFilter(OpenApiFilter.RunStage.BUILD)
public class WhatMayBeAbsent implements OASFilter {
    private static final DotName NULLABLE = DotName.createSimple(Nullable.class.getName());
    private static final DotName UNWRAPPED = DotName.createSimple(JsonUnwrapped.class.getName());
    private static final Set<String> BOXED = Set.of("Integer", "Long", "Boolean", "Double");

    private final Map<String, List<ClassInfo>> records = new HashMap<>();
    private final IndexView index;

    public WhatMayBeAbsent(IndexView index) {
        this.index = index;
        for (ClassInfo c : index.getKnownClasses()) {
            if (c.isRecord() && c.name().toString().startsWith("org.wirekettle.")) {
                records.computeIfAbsent(c.simpleName(), n -> new ArrayList<>()).add(c);
            }
        }
    }

    @Override
    public void filterOpenAPI(OpenAPI api) {
        api.getComponents().getSchemas().forEach((name, schema) -> {
            if (schema.getProperties() != null) {
                records.getOrDefault(name, List.of()).forEach(r -> require(schema, r));
            }
        });
    }

    private void require(Schema schema, ClassInfo record) {
        Set<String> all = new HashSet<>();
        Set<String> required = new TreeSet<>();
        collect(record, all, required);
        if (all.equals(schema.getProperties().keySet())) {
            schema.setRequired(required.isEmpty() ? null : List.copyOf(required));
        }
    }

    private void collect(ClassInfo record, Set<String> all, Set<String> required) {
        for (RecordComponentInfo c : record.recordComponents()) {
            if (record.field(c.name()).hasAnnotation(UNWRAPPED)) {
                collect(index.getClassByName(c.type().name()), all, required);
                continue;
            }
            all.add(c.name());
            if (!mayBeAbsent(c)) {
                required.add(c.name());
            }
        }
    }

    static boolean mayBeAbsent(RecordComponentInfo c) {
        Type type = c.type();
        return c.hasAnnotation(NULLABLE)
                || type.hasAnnotation(NULLABLE)
                || type.kind() == Type.Kind.CLASS && BOXED.contains(type.name().withoutPackagePrefix());
    }
}
