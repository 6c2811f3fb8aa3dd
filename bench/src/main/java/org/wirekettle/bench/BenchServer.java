package org.wirekettle.bench;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;

/** Our server, as its administrator, whose password is in the environment. */
final class BenchServer {
    private static final ObjectMapper JSON = new ObjectMapper();

    private final HttpClient http = HttpClient.newHttpClient();
    private final String address;
    private String cookie;

    BenchServer(String address) throws Exception {
        this.address = address;
        send(
                "POST",
                "/api/session",
                "{\"name\":\"admin\",\"password\":\"" + System.getenv("WK_ADMIN_PASSWORD") + "\"}");
    }

    /** @return null for nothing */
    JsonNode send(String method, String path, String body) throws Exception {
        HttpRequest.Builder b = HttpRequest.newBuilder(URI.create(address + path))
                .header("Content-Type", "application/json")
                .header("X-Wire-Kettle", "1")
                .method(
                        method,
                        body == null ? HttpRequest.BodyPublishers.noBody() : HttpRequest.BodyPublishers.ofString(body));
        if (cookie != null) {
            b.header("Cookie", cookie);
        }
        HttpResponse<String> r = http.send(b.build(), HttpResponse.BodyHandlers.ofString());
        r.headers().firstValue("set-cookie").ifPresent(c -> cookie = c.replaceFirst(";.*", ""));
        if (r.statusCode() >= 300) {
            throw new IllegalStateException(method + " " + path + ": " + r.statusCode() + " " + r.body());
        }
        return r.body().isEmpty() ? null : JSON.readTree(r.body());
    }

    /** Waits until something that is published is in a state. */
    void becomes(String endpoint, String state) throws Exception {
        while (!send("GET", "/api/endpoints/" + endpoint, null)
                .get("state")
                .asText()
                .equals(state)) {
            Thread.sleep(100);
        }
    }
}
