package org.wirekettle.server.overview;

import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.util.Optional;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.wirekettle.server.access.Open;

/** Lets whoever started this server tell it from anybody else on its port, before a password is sent there. */
@Path("/api/instance")
public class InstanceResource {
    private final String instance;

    InstanceResource(@ConfigProperty(name = "wk.instance") Optional<String> instance) {
        this.instance = instance.orElse("");
    }

    /** The number it was started with; it opens nothing. */
    @GET
    @Open
    @Produces(MediaType.TEXT_PLAIN)
    public String get() {
        return instance;
    }
}
