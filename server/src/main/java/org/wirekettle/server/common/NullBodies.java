package org.wirekettle.server.common;

import jakarta.ws.rs.ext.Provider;
import jakarta.ws.rs.ext.ReaderInterceptor;
import jakarta.ws.rs.ext.ReaderInterceptorContext;
import java.io.IOException;

/** A body that is {@code null} says nothing; no method expects it. */
@Provider
public class NullBodies implements ReaderInterceptor {
    @Override
    public Object aroundReadFrom(ReaderInterceptorContext context) throws IOException {
        Object read = context.proceed();
        if (read == null) {
            throw Wrong.malformed("The request's body is empty.");
        }
        return read;
    }
}
