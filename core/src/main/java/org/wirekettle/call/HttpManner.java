package org.wirekettle.call;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How requests are made up, where a service wants it otherwise than usual. Immutable.
 *
 * @param headers further ones
 * @param isPacked whether requests are sent packed (gzip)
 * @param isChunked whether they are sent in chunks instead of with their length
 * @param isAnnounced whether the service is asked first whether it wants the request (Expect, RFC 9110 §10.1.1)
 * @param isFollowing whether a redirect is followed; secrets go to no other origin
 * @param isClosing whether each call has a connection of its own
 * @param isKeepingCookies whether the service's cookies are sent back to it
 * @param charset the encoding of requests
 * @param userAgent what we say we are
 */
public record HttpManner(
        List<Header> headers,
        boolean isPacked,
        boolean isChunked,
        boolean isAnnounced,
        boolean isFollowing,
        boolean isClosing,
        boolean isKeepingCookies,
        Charset charset,
        String userAgent) {
    public static final String USER_AGENT = "Wire Kettle";
    public static final HttpManner USUAL =
            new HttpManner(List.of(), false, false, false, false, false, false, StandardCharsets.UTF_8, USER_AGENT);

    /**
     * A header of each request.
     *
     * @param isSecret whether its value is shown to nobody
     */
    public record Header(String name, @Nullable String value, boolean isSecret) {}

    public HttpManner {
        headers = List.copyOf(headers);
    }

    /** Only with headers of these. */
    public HttpManner with(List<Header> others) {
        return new HttpManner(
                others, isPacked, isChunked, isAnnounced, isFollowing, isClosing, isKeepingCookies, charset, userAgent);
    }
}
