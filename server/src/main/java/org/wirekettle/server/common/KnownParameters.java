package org.wirekettle.server.common;

import jakarta.annotation.Priority;
import jakarta.ws.rs.Priorities;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.container.ContainerRequestContext;
import jakarta.ws.rs.container.ContainerRequestFilter;
import jakarta.ws.rs.container.ResourceInfo;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.ext.Provider;
import java.lang.annotation.Annotation;
import java.lang.reflect.Method;
import java.util.Arrays;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.wirekettle.problem.Show;

/**
 * Refuses a misspelt parameter: passed over, it would quietly ask for something else than what was meant. Only after it
 * is known who asks.
 */
@Provider
@Priority(Priorities.USER + 100)
public class KnownParameters implements ContainerRequestFilter {
    private final Map<Method, Set<String>> known = new ConcurrentHashMap<>();

    @Context
    ResourceInfo resource;

    @Override
    public void filter(ContainerRequestContext request) {
        Set<String> given = request.getUriInfo().getQueryParameters().keySet();
        if (given.isEmpty()) {
            return;
        }
        Set<String> names = known.computeIfAbsent(resource.getResourceMethod(), KnownParameters::names);
        given.stream().filter(g -> !names.contains(g)).findFirst().ifPresent(unknown -> {
            throw Wrong.malformed("There is no parameter " + Show.value(unknown) + " here; "
                    + (names.isEmpty() ? "this takes none." : "there are: " + String.join(", ", names) + "."));
        });
    }

    private static Set<String> names(Method method) {
        return Arrays.stream(method.getParameterAnnotations())
                .flatMap(Arrays::stream)
                .filter(QueryParam.class::isInstance)
                .map(KnownParameters::name)
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static String name(Annotation a) {
        return ((QueryParam) a).value();
    }
}
