package org.wirekettle.server.access;

import jakarta.ws.rs.container.ContainerRequestContext;
import jakarta.ws.rs.container.ContainerResponseContext;
import jakarta.ws.rs.container.ContainerResponseFilter;
import jakarta.ws.rs.container.ResourceInfo;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.ext.Provider;
import org.jboss.logging.Logger;

/** Writes down who changed or ran what, refused tries included. Bodies are never written: they may hold secrets. */
@Provider
public class AuditFilter implements ContainerResponseFilter {
    private static final Logger LOG = Logger.getLogger(AuditFilter.class);
    private static final int MAX_CHARS = 400;
    private final AuditMapper audit;
    private final Caller caller;

    @Context
    ResourceInfo resource;

    AuditFilter(AuditMapper audit, Caller caller) {
        this.audit = audit;
        this.caller = caller;
    }

    @Override
    public void filter(ContainerRequestContext request, ContainerResponseContext response) {
        String method = request.getMethod();
        boolean reads = method.equals("GET")
                || method.equals("HEAD")
                || method.equals("OPTIONS")
                || resource.getResourceMethod() == null
                || resource.getResourceMethod().isAnnotationPresent(ReadsOnly.class);
        if (reads || caller.name() == null) {
            return;
        }
        AuditMapper.Row row = new AuditMapper.Row();
        row.account = shortened(caller.name());
        row.address = caller.address();
        row.method = method;
        row.path = shortened(request.getUriInfo().getPath());
        row.status = response.getStatus();
        row.detail = caller.note();
        try {
            audit.add(row);
        } catch (RuntimeException e) {
            // The deed is done; that it could not be written down must not be hidden either.
            LOG.errorf(e, "not in the audit log: %s %s by %s", method, row.path, row.account);
        }
    }

    private static String shortened(String s) {
        String clean = s.replace("\0", "\uFFFD");
        return clean.length() <= MAX_CHARS ? clean : clean.substring(0, MAX_CHARS) + "…";
    }
}
