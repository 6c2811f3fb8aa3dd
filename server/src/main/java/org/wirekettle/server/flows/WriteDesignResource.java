package org.wirekettle.server.flows;

import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.WriteDesign;
import org.wirekettle.flow.WriteStep;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.DesignResource.DesignQuery;

/** What a write step gets, so that its target can be made. */
@Path("/api/design/written")
@Allow(Role.BUILDER)
public class WriteDesignResource {
    private final Projects projects;
    private final Expressions expressions;

    WriteDesignResource(Projects projects, Expressions expressions) {
        this.projects = projects;
        this.expressions = expressions;
    }

    /** The fields of the rows that the step writes, with those inside of them; none when they are not known. */
    @POST
    @ReadsOnly
    public List<Field> written(DesignQuery q) {
        if (q.definition()
                .step(q.step())
                .filter(s -> s.kind() instanceof WriteStep)
                .isEmpty()) {
            throw Wrong.input("design.step", "The step is no write.");
        }
        try (ServerProject project = projects.design(q.environment(), q.flow())) {
            return WriteDesign.fields(q.definition(), q.step(), project, expressions);
        }
    }
}
