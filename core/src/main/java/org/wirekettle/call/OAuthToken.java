package org.wirekettle.call;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.wirekettle.call.Exchange.Outcome;

/**
 * The token of a client at a service (OAuth 2.0 client credentials, RFC 6749 §4.4): had when first needed, once for all
 * who call, and anew before it ends. Shareable by threads.
 */
final class OAuthToken implements AutoCloseable {
    /** A token is not used any more so long before its end: a call takes its time. */
    private static final int MARGIN_SECONDS = 30;
    /** Where its life is not said. */
    private static final int DEFAULT_SECONDS = 300;

    private static final ObjectMapper JSON = new ObjectMapper();

    private static final int MAX_ANSWER_BYTES = 256 * 1024;

    private final HttpSettings settings;
    private final HttpLogIn.TokenPlace place;
    private final HttpCaller tokens;
    private String token;
    private long endNanos;
    /** Why none could be had the last time; null when it could. */
    private String refusal;

    private long refusalNanos;

    OAuthToken(HttpSettings settings, HostPolicy policy) {
        this.settings = settings;
        this.place = settings.logIn().tokens();
        if (place == null) {
            throw new IllegalArgumentException("there is no address where a token is had");
        }
        // The client's own log-in goes with each request for a token (RFC 6749 §2.3.1).
        this.tokens = new HttpCaller(
                HttpSettings.to(place.url())
                        .limited(settings.limits().atATime(1).atMost(MAX_ANSWER_BYTES))
                        .securedBy(settings.tls())
                        .through(settings.proxy()),
                policy);
    }

    /** @throws IOException in words, when none can be had */
    String get() throws IOException {
        return get(System.nanoTime());
    }

    /** Who waited while another asked in vain does not ask again: a service that is away would keep all of them. */
    private synchronized String get(long since) throws IOException {
        if (token == null || System.nanoTime() - endNanos >= 0) {
            if (refusal != null && refusalNanos - since >= 0) {
                throw new IOException(refusal);
            }
            token = null;
            try {
                fetch();
            } catch (IOException e) {
                refusal = e.getMessage();
                refusalNanos = System.nanoTime();
                throw e;
            }
        }
        return token;
    }

    /** Ends asking for one: who waits for it is told. */
    void abort() {
        tokens.abort();
    }

    /** The service does not take it any more; another one that was had meanwhile stays. */
    synchronized void refused(String used) {
        if (used.equals(token)) {
            token = null;
        }
    }

    private void fetch() throws IOException {
        String body = "grant_type=client_credentials" + parameter("scope", place.scope())
                + parameter("audience", place.audience());
        String client =
                form(settings.logIn().user()) + ":" + form(settings.logIn().password());
        List<String[]> headers = List.of(
                new String[] {
                    "Authorization",
                    "Basic " + Base64.getEncoder().encodeToString(client.getBytes(StandardCharsets.UTF_8))
                },
                new String[] {"Accept", "application/json"});
        Exchange x =
                tokens.post("application/x-www-form-urlencoded", headers, body.getBytes(StandardCharsets.US_ASCII));
        if (x.outcome() != Outcome.ANSWERED) {
            throw new IOException("no token could be had: " + x.problem());
        }
        JsonNode said = read(x.answer());
        if (x.status() != 200) {
            String why =
                    said.path("error_description").asText(said.path("error").asText(""));
            throw new IOException(
                    "no token could be had: HTTP status " + x.status() + (why.isEmpty() ? "" : ", " + why));
        }
        String given = said.path("access_token").asText("");
        if (given.isEmpty() || given.chars().anyMatch(c -> c <= ' ' || c >= 0x7F)) {
            throw new IOException("no token could be had: there is none in the answer");
        }
        int seconds = said.path("expires_in").asInt(DEFAULT_SECONDS);
        token = given;
        endNanos = System.nanoTime() + TimeUnit.SECONDS.toNanos(Math.max(1, seconds - MARGIN_SECONDS));
    }

    private static JsonNode read(byte[] answer) {
        try {
            JsonNode out = JSON.readTree(answer);
            return out == null ? JSON.createObjectNode() : out;
        } catch (IOException e) {
            return JSON.createObjectNode();
        }
    }

    private static String parameter(String name, String value) {
        return value == null || value.isBlank() ? "" : "&" + name + "=" + form(value);
    }

    private static String form(String value) {
        return URLEncoder.encode(value == null ? "" : value, StandardCharsets.UTF_8);
    }

    @Override
    public void close() {
        tokens.close();
    }
}
