package org.wirekettle.trigger;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wirekettle.soap.SoapRequest;

/**
 * A request as it came.
 *
 * @param method of HTTP
 * @param path percent-encoded, as the trigger's begins
 * @param values of the path, by name
 * @param query what follows the question mark, as it came; null for none
 * @param headers all values of a header, by its name
 * @param soap its message, where it is one of SOAP; null elsewhere
 */
public record HttpAsked(
        String method,
        String path,
        Map<String, String> values,
        @Nullable String query,
        Function<String, List<String>> headers,
        byte[] body,
        @Nullable SoapRequest soap) {
    /** The first value of a header; null for none. */
    @Nullable
    public String header(String name) {
        List<String> all = headers.apply(name);
        return all.isEmpty() ? null : all.get(0);
    }

    /** By which the same request is known again; empty for those that may be repeated anyway. */
    public Optional<String> idempotencyKey() {
        return method.equals("GET") ? Optional.empty() : Optional.ofNullable(header("Idempotency-Key"));
    }

    /** With its SOAP message read. */
    public HttpAsked with(SoapRequest message) {
        return new HttpAsked(method, path, values, query, headers, body, message);
    }
}
