package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;
import org.wirekettle.mapping.MappingProblem;

/**
 * What is wrong with a step before any record is read.
 *
 * @param step index in the flow
 * @param row the mapping row concerned, or null
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record FlowProblem(
        int step, @Nullable String text, @Nullable MappingProblem row) {}
