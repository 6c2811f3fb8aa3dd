package org.wirekettle.server.common;

import com.fasterxml.jackson.annotation.JsonSubTypes;
import io.quarkus.smallrye.openapi.OpenApiFilter;
import java.util.Map;
import org.eclipse.microprofile.openapi.OASFactory;
import org.eclipse.microprofile.openapi.OASFilter;
import org.eclipse.microprofile.openapi.models.OpenAPI;
import org.eclipse.microprofile.openapi.models.media.Schema;
import org.eclipse.microprofile.openapi.models.media.Schema.SchemaType;
import org.jboss.jandex.AnnotationInstance;
import org.jboss.jandex.ClassInfo;
import org.jboss.jandex.DotName;
import org.jboss.jandex.IndexView;
import org.jboss.jandex.RecordComponentInfo;
import org.jboss.jandex.Type;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.StepKind;

/**
 * Describes in the API what each kind of step holds, from the same list that reads them (the subtypes of
 * {@link StepKind}): a new kind is known to the pages' types without a word about it.
 */
@OpenApiFilter(OpenApiFilter.RunStage.BUILD)
public class KindsOfSteps implements OASFilter {
    private static final String REF = "#/components/schemas/";
    private static final Map<String, SchemaType> SIMPLE = Map.of(
            "java.lang.String", SchemaType.STRING,
            "java.lang.Integer", SchemaType.INTEGER,
            "java.lang.Boolean", SchemaType.BOOLEAN);
    private final IndexView index;

    public KindsOfSteps(IndexView index) {
        this.index = index;
    }

    @Override
    public void filterOpenAPI(OpenAPI api) {
        ClassInfo step = index.getClassByName(DotName.createSimple(StepKind.class.getName()));
        Schema any = OASFactory.createSchema();
        for (AnnotationInstance kind : step.annotation(DotName.createSimple(JsonSubTypes.class.getName()))
                .value()
                .asNestedArray()) {
            ClassInfo record = index.getClassByName(kind.value().asClass().name());
            Schema schema = object(record, api);
            schema.addProperty(
                    "kind",
                    OASFactory.createSchema()
                            .addType(SchemaType.STRING)
                            .addEnumeration(kind.value("name").asString()));
            schema.addRequired("kind");
            schema.addProperty("id", OASFactory.createSchema().addType(SchemaType.STRING));
            schema.addRequired("id");
            schema.addProperty("off", OASFactory.createSchema().addType(SchemaType.BOOLEAN));
            api.getComponents().addSchema(record.simpleName(), schema);
            any.addOneOf(OASFactory.createSchema().ref(REF + record.simpleName()));
        }
        api.getComponents().addSchema(Step.class.getSimpleName(), any);
    }

    private Schema object(ClassInfo record, OpenAPI api) {
        Schema out = OASFactory.createSchema().addType(SchemaType.OBJECT);
        for (RecordComponentInfo c : record.recordComponents()) {
            out.addProperty(c.name(), schema(c.type(), api));
            if (!WhatMayBeAbsent.mayBeAbsent(c)) {
                out.addRequired(c.name());
            }
        }
        return out;
    }

    private Schema schema(Type type, OpenAPI api) {
        Schema out = OASFactory.createSchema();
        SchemaType simple = SIMPLE.get(type.name().toString());
        if (simple != null) {
            return out.addType(simple);
        }
        if (type.kind() == Type.Kind.PARAMETERIZED_TYPE) {
            return out.addType(SchemaType.ARRAY)
                    .items(schema(type.asParameterizedType().arguments().get(0), api));
        }
        if (type.name().toString().equals(Step.class.getName())) {
            return out.ref(REF + Step.class.getSimpleName());
        }
        ClassInfo record = index.getClassByName(type.name());
        if (!api.getComponents().getSchemas().containsKey(record.simpleName())) {
            api.getComponents().addSchema(record.simpleName(), object(record, api));
        }
        return out.ref(REF + record.simpleName());
    }
}
