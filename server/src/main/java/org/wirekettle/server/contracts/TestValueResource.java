package org.wirekettle.server.contracts;

import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.OffsetDateTime;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;

/** Named sets of values with which an operation can be tried, shared by the project. */
@Path("/api/contracts/{name}/operations/{operation}/values")
public class TestValueResource {
    private static final int MAX_SETS = 100;
    private static final int MAX_NAME = 80;
    private static final int MAX_CHARS = 1_000_000;

    private final Contracts contracts;
    private final TestValueMapper rows;
    private final Json json;
    private final Caller caller;

    TestValueResource(Contracts contracts, TestValueMapper rows, Json json, Caller caller) {
        this.contracts = contracts;
        this.rows = rows;
        this.json = json;
        this.caller = caller;
    }

    /** A set. @param rules of the request, with fixed texts */
    public record TestValues(String name, List<Mapping.Rule> rules, String changedBy, OffsetDateTime changedAt) {}

    /** What is kept under a name. */
    public record TestValuesIn(List<Mapping.Rule> rules) {}

    @GET
    public List<TestValues> list(@PathParam("name") String name, @PathParam("operation") String operation) {
        contracts.get(name);
        return rows.list(name, operation).stream()
                .map(r ->
                        new TestValues(r.name, json.read(r.rules, Mapping.class).rules(), r.changedBy, r.changedAt))
                .toList();
    }

    @PUT
    @Path("{set}")
    public void put(
            @PathParam("name") String name,
            @PathParam("operation") String operation,
            @PathParam("set") String set,
            @Nullable TestValuesIn in) {
        boolean isThere = contracts.get(name).ports().stream()
                .anyMatch(p -> p.operation(operation).isPresent());
        if (!isThere) {
            throw Wrong.notFound("operation", operation);
        }
        if (set.isBlank() || set.length() > MAX_NAME) {
            throw Wrong.input("values.name", "A set of values needs a name of at most " + MAX_NAME + " characters.");
        }
        Wrong.required(in, "the values");
        Mapping mapping = new Mapping(in.rules());
        if (mapping.rules().size() > Mapping.MAX_RULES) {
            throw Wrong.input("values.many", "A set has at most " + Mapping.MAX_RULES + " values.");
        }
        if (mapping.rules().stream().anyMatch(r -> r.xpath() != null || r.each() != null)) {
            throw Wrong.input("values.computed", "Values are fixed texts; nothing in them is computed.");
        }
        String text = json.write(mapping);
        if (text.length() > MAX_CHARS) {
            throw Wrong.input("values.size", "A set has at most " + MAX_CHARS + " characters.");
        }
        if (rows.get(name, operation, set.strip()) == null && rows.count(name, operation) >= MAX_SETS) {
            throw Wrong.input("values.sets", "An operation has at most " + MAX_SETS + " sets of values.");
        }
        rows.put(name, operation, set.strip(), text, caller.name());
    }

    @DELETE
    @Path("{set}")
    public void delete(
            @PathParam("name") String name, @PathParam("operation") String operation, @PathParam("set") String set) {
        contracts.get(name);
        if (rows.delete(name, operation, set) == 0) {
            throw Wrong.notFound("set of values", set);
        }
    }
}
