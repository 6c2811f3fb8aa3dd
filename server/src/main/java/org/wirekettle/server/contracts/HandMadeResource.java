package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.DescriptionReader;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.http.HandMade;
import org.wirekettle.contract.http.HandMade.HandOperation;
import org.wirekettle.contract.http.HandMade.Sample;
import org.wirekettle.contract.http.HandMadeWriter;
import org.wirekettle.contract.http.SampleFields;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.common.Wrong;

/** Contracts of operations that somebody describes by hand. */
@Path("/api/contracts/{name}/by-hand")
public class HandMadeResource {
    private static final int MAX_NAME = 100;

    private final Contracts contracts;
    private final Caller caller;

    HandMadeResource(Contracts contracts, Caller caller) {
        this.contracts = contracts;
        this.caller = caller;
    }

    /**
     * What an operation's messages look like so far.
     *
     * @param problem why it cannot be kept yet; null when it can
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record HandMadePreview(
            List<SampleFields.Guess> body,
            List<SampleFields.Guess> answer,
            @Nullable String problem) {}

    /** @return as it was made; a contract that was read has none */
    @GET
    public HandMade get(@PathParam("name") String name) {
        return HandMade.of(contracts.get(name)).orElseThrow(() -> Wrong.notFound("contract made by hand", name));
    }

    @PUT
    public ContractResource.Imported put(@PathParam("name") String name, HandMade made) {
        if (name.isBlank() || name.length() > MAX_NAME) {
            throw Wrong.input("contract.name", "A contract needs a name of at most " + MAX_NAME + " characters.");
        }
        Wrong.required(made, "the operations");
        Contracts.Stored s = contracts.keepHandMade(name.strip(), made);
        caller.note(s.name() + ", version " + s.version());
        return new ContractResource.Imported(s.name(), s.version(), s.isNew(), s.said());
    }

    @POST
    @Path("preview")
    @ReadsOnly
    public HandMadePreview preview(HandOperation operation) {
        Wrong.required(operation, "an operation");
        String problem = problem(operation);
        return new HandMadePreview(fields(operation.body()), fields(operation.answer()), problem);
    }

    private static @Nullable String problem(HandOperation operation) {
        try {
            byte[] document = HandMadeWriter.write("preview", new HandMade(null, List.of(operation)));
            return DescriptionReader.read(HandMade.DOCUMENT, Documents.of(Map.of(HandMade.DOCUMENT, document)))
                    .notes()
                    .stream()
                    .filter(n -> n.code().equals("openapi.parameter"))
                    .map(Problem::text)
                    .findFirst()
                    .orElse(null);
        } catch (Refused e) {
            return e.getMessage();
        }
    }

    /** None while the sample is no message yet: why is said once. */
    private static List<SampleFields.Guess> fields(@Nullable Sample sample) {
        try {
            return SampleFields.of(sample);
        } catch (Refused e) {
            return List.of();
        }
    }
}
