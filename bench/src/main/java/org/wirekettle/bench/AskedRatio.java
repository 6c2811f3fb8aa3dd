package org.wirekettle.bench;

import io.vertx.core.Vertx;
import io.vertx.core.buffer.Buffer;
import io.vertx.core.http.HttpClient;
import io.vertx.core.http.HttpClientOptions;
import io.vertx.core.http.HttpClientRequest;
import io.vertx.core.http.HttpMethod;
import io.vertx.core.http.PoolOptions;
import java.io.IOException;
import java.net.Socket;
import java.net.URI;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.CountDownLatch;

/**
 * A published endpoint over a SOAP operation that answers at once, beside {@link HandWrittenEndpoint}: the same
 * service, the same callers, in turns of two seconds, both warm. Prints requests a second of each, the ratio (median of
 * turns), and the 99th percentiles.
 */
public final class AskedRatio {
    private static final long TURN_MILLIS = 2_000;
    private static final int WARM_TURNS = 5;
    private static final int TURNS = 5;
    private static final String ASKED = "/http/tides/TLWRC?draught=7.2&arrival=2031-04-02T21:40:00Z";
    private static final String FLOW = """
            {"name": "Tides asked", "definition": {"format": 2, "steps": [
              {"id": "in", "kind": "receive", "inputs": [
                {"name": "port", "type": "string", "required": true, "pattern": "[A-Z]{5}"},
                {"name": "draught", "type": "decimal", "required": true, "least": "0", "most": "30"},
                {"name": "arrival", "type": "dateTime", "required": true}]},
              {"id": "ask", "kind": "call", "contract": "TideDesk", "port": "TideDesk11",
               "operation": "GetTideWindow", "connection": "tide", "safeToRepeat": true, "fill": [
                {"path": "GetTideWindow/portCode", "xpath": "port"},
                {"path": "GetTideWindow/arrival", "xpath": "arrival"},
                {"path": "GetTideWindow/draught", "xpath": "draught"}]},
              {"id": "out", "kind": "reply", "from": "$reply/window", "columns": [
                {"name": "opens", "xpath": "opensAt", "type": "dateTime"},
                {"name": "closes", "xpath": "closesAt", "type": "dateTime"},
                {"name": "clearance", "xpath": "clearance", "type": "decimal"}]}]}}""";

    private AskedRatio() {}

    /**
     * Arguments: our server, the service, the hand-written one's port. The administrator's password is in the
     * environment.
     */
    public static void main(String[] a) throws Exception {
        String key = prepare(new BenchServer(a[0]), a[1]);
        Process byHand = new ProcessBuilder(
                        "java",
                        "-Xmx512m",
                        "-cp",
                        System.getProperty("java.class.path"),
                        HandWrittenEndpoint.class.getName(),
                        a[2],
                        a[1] + "/tidedesk",
                        key)
                .inheritIO()
                .start();
        Vertx vertx = Vertx.vertx();
        try {
            listening(Integer.parseInt(a[2]), byHand);
            HttpClient client = vertx.createHttpClient(
                    new HttpClientOptions().setKeepAlive(true), new PoolOptions().setHttp1MaxSize(64));
            compare(client, URI.create(a[0]).getPort(), Integer.parseInt(a[2]), key);
        } finally {
            byHand.destroy();
            vertx.close();
        }
    }

    private static void listening(int port, Process server) throws InterruptedException {
        while (server.isAlive()) {
            try (Socket s = new Socket("127.0.0.1", port)) {
                return;
            } catch (IOException e) {
                Thread.sleep(100);
            }
        }
        throw new IllegalStateException("the hand-written endpoint does not start");
    }

    private static String prepare(BenchServer server, String service) throws Exception {
        server.send("POST", "/api/contracts", "{\"url\":\"" + service + "/tidedesk?wsdl\",\"name\":\"TideDesk\"}");
        server.send(
                "PUT",
                "/api/connections/tide",
                "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + service
                        + "/tidedesk\",\"parallel\":64}}}");
        long flow = server.send("POST", "/api/flows", FLOW).get("id").asLong();
        server.send(
                "PUT",
                "/api/endpoints/tides",
                "{\"flow\":" + flow
                        + ",\"environment\":\"test\",\"http\":{\"method\":\"GET\",\"path\":\"/tides/{port}\"}}");
        server.becomes("tides", "ready");
        return server.send("POST", "/api/keys/bench", "{}").get("key").asText();
    }

    private static void compare(HttpClient client, int ours, int theirs, String key) throws Exception {
        for (int i = 0; i < WARM_TURNS; i++) {
            turn(client, ours, key, 8);
            turn(client, theirs, key, 8);
        }
        System.out.printf(
                "%-8s %12s %12s %7s %14s %14s %7s%n",
                "callers", "by hand/s", "endpoint/s", "ratio", "by hand 99 %", "endpoint 99 %", "ratio");
        for (int callers : new int[] {1, 8, 32}) {
            List<double[]> own = new ArrayList<>();
            List<double[]> other = new ArrayList<>();
            List<Double> ratios = new ArrayList<>();
            List<Double> tails = new ArrayList<>();
            for (int i = 0; i < TURNS; i++) {
                own.add(turn(client, ours, key, callers));
                other.add(turn(client, theirs, key, callers));
                ratios.add(own.get(i)[0] / other.get(i)[0]);
                tails.add(own.get(i)[1] / other.get(i)[1]);
            }
            System.out.printf(
                    "%-8d %12.0f %12.0f %7.2f %11.2f ms %11.2f ms %7.2f%n",
                    callers,
                    median(other.stream().map(t -> t[0]).toList()),
                    median(own.stream().map(t -> t[0]).toList()),
                    median(ratios),
                    median(other.stream().map(t -> t[1]).toList()),
                    median(own.stream().map(t -> t[1]).toList()),
                    median(tails));
        }
    }

    private static double median(List<Double> of) {
        List<Double> sorted = new ArrayList<>(of);
        Collections.sort(sorted);
        return sorted.get(sorted.size() / 2);
    }

    /** @return requests a second, and the 99th percentile in milliseconds */
    private static double[] turn(HttpClient client, int port, String key, int callers) throws Exception {
        long until = System.nanoTime() + TURN_MILLIS * 1_000_000;
        CountDownLatch left = new CountDownLatch(callers);
        List<long[]> times = Collections.synchronizedList(new ArrayList<>());
        long begun = System.nanoTime();
        for (int i = 0; i < callers; i++) {
            ask(client, port, key, until, new Times(), left, times);
        }
        left.await();
        double seconds = (System.nanoTime() - begun) / 1e9;
        long[] all = times.stream().flatMapToLong(Arrays::stream).sorted().toArray();
        return new double[] {all.length / seconds, all[(int) (all.length * 0.99)] / 1e6};
    }

    /** Of one caller. */
    private static final class Times {
        private long[] all = new long[1_024];
        private int count;

        void add(long nanos) {
            if (count == all.length) {
                all = Arrays.copyOf(all, count * 2);
            }
            all[count++] = nanos;
        }
    }

    private static void ask(
            HttpClient client, int port, String key, long until, Times own, CountDownLatch left, List<long[]> all) {
        long at = System.nanoTime();
        if (at >= until) {
            all.add(Arrays.copyOf(own.all, own.count));
            left.countDown();
            return;
        }
        client.request(HttpMethod.GET, port, "127.0.0.1", ASKED)
                .map(r -> r.putHeader("Authorization", "Bearer " + key))
                .compose(HttpClientRequest::send)
                .compose(r -> {
                    if (r.statusCode() != 200) {
                        throw new IllegalStateException("HTTP " + r.statusCode() + " of port " + port);
                    }
                    return r.body();
                })
                .onSuccess((Buffer b) -> {
                    own.add(System.nanoTime() - at);
                    ask(client, port, key, until, own, left, all);
                })
                .onFailure(e -> {
                    e.printStackTrace();
                    System.exit(1);
                });
    }
}
