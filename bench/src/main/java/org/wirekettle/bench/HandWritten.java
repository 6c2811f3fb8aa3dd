package org.wirekettle.bench;

import java.io.ByteArrayInputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.Timestamp;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamReader;
import org.apache.hc.client5.http.classic.methods.HttpPost;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManagerBuilder;
import org.apache.hc.core5.http.ContentType;
import org.apache.hc.core5.http.io.entity.ByteArrayEntity;
import org.apache.hc.core5.http.io.entity.EntityUtils;
import org.apache.hc.core5.pool.PoolConcurrencyPolicy;
import org.apache.hc.core5.pool.PoolReusePolicy;

/**
 * What a developer would write instead, by hand and for this one job: a string template, an HTTP client, StAX, batched
 * inserts. It keeps no trail and no account. Reused for all rounds, so that it is warm.
 */
final class HandWritten {
    /** Posts a message. */
    interface Sender {
        byte[] post(String url, byte[] body) throws Exception;
    }

    private static final int BATCH = 500;
    private static final String INSERT =
            "INSERT INTO harbour.tide_window (call_ref, vessel, opens_at, closes_at, clearance_m, asked_at) VALUES"
                    + " (?, ?, ?::timestamptz, ?::timestamptz, ?::numeric, ?)";
    private static final DateTimeFormatter IN = DateTimeFormatter.ofPattern("dd.MM.yyyy HH:mm");
    private static final String CONTENT_TYPE = "text/xml; charset=utf-8";
    private static final String ACTION = "\"urn:tallow-reach:tidedesk#GetTideWindow\"";
    private static final XMLInputFactory XML = XMLInputFactory.newFactory();

    private final Sender sender;

    private String security = "";

    private HandWritten(Sender sender) {
        this.sender = sender;
    }

    /** A WS-Security UsernameToken with its password as text (WS-Security UsernameToken Profile 1.1 §3.1). */
    HandWritten withToken() {
        String wsse = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-";
        security = "<s:Header><w:Security s:mustUnderstand=\"1\" xmlns:w=\"" + wsse
                + "wssecurity-secext-1.0.xsd\"><w:UsernameToken><w:Username>agency</w:Username><w:Password Type=\""
                + wsse
                + "username-token-profile-1.0#PasswordText\">sole</w:Password></w:UsernameToken></w:Security></s:Header>";
        return this;
    }

    /** With the JDK's client. */
    static HandWritten withTheJdks() {
        HttpClient http =
                HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
        return new HandWritten((url, body) -> {
            HttpRequest request = HttpRequest.newBuilder(URI.create(url))
                    .header("Content-Type", CONTENT_TYPE)
                    .header("SOAPAction", ACTION)
                    .POST(HttpRequest.BodyPublishers.ofByteArray(body))
                    .build();
            HttpResponse<byte[]> r;
            try {
                r = http.send(request, HttpResponse.BodyHandlers.ofByteArray());
            } catch (java.io.IOException e) {
                // Now and then this client reports a kept connection as closed; such code just asks again.
                r = http.send(request, HttpResponse.BodyHandlers.ofByteArray());
            }
            if (r.statusCode() != 200) {
                throw new IllegalStateException("HTTP " + r.statusCode());
            }
            return r.body();
        });
    }

    /** With the client that we use, and its pool as we set it. */
    static HandWritten withOurs(int parallel) {
        return new HandWritten(sender(parallel));
    }

    /** The client that we use alone. */
    static Sender sender(int parallel) {
        var pool = PoolingHttpClientConnectionManagerBuilder.create()
                .setMaxConnPerRoute(parallel)
                .setMaxConnTotal(parallel)
                .setPoolConcurrencyPolicy(PoolConcurrencyPolicy.LAX)
                .setConnPoolPolicy(PoolReusePolicy.LIFO)
                .build();
        CloseableHttpClient http = HttpClients.custom()
                .setConnectionManager(pool)
                .disableAutomaticRetries()
                .disableContentCompression()
                .disableCookieManagement()
                .disableRedirectHandling()
                .disableAuthCaching()
                .build();
        return (url, body) -> {
            HttpPost post = new HttpPost(url);
            post.setHeader("Content-Type", CONTENT_TYPE);
            post.setHeader("SOAPAction", ACTION);
            post.setEntity(new ByteArrayEntity(body, ContentType.TEXT_XML));
            return http.execute(post, answer -> {
                if (answer.getCode() != 200) {
                    throw new IllegalStateException("HTTP " + answer.getCode());
                }
                return EntityUtils.toByteArray(answer.getEntity());
            });
        };
    }

    /** One line to be inserted. */
    private record Row(String callRef, String vessel, String opens, String closes, String clearance, Timestamp asked) {}

    /** @return seconds */
    double run(Path csv, String url, int parallel, Connection db) throws Exception {
        return run(csv, url, parallel, db, 1, 1);
    }

    /**
     * Some records at a time, their parts one after the other; the row of a part is made of its first answer.
     *
     * @param parts of a record
     * @param calls for each part
     * @return seconds
     */
    double run(Path csv, String url, int parallel, Connection db, int parts, int calls) throws Exception {
        long start = System.nanoTime();
        List<String> lines = Files.readAllLines(csv);
        Iterator<String> source = lines.subList(1, lines.size()).iterator();
        db.setAutoCommit(false);
        ExecutorService pool = Executors.newFixedThreadPool(parallel);
        try (PreparedStatement insert = db.prepareStatement(INSERT)) {
            List<Row> pending = new ArrayList<>(BATCH);
            Callable<Void> worker = () -> {
                while (true) {
                    String line;
                    synchronized (source) {
                        if (!source.hasNext()) {
                            return null;
                        }
                        line = source.next();
                    }
                    String[] f = line.split(";", -1);
                    for (int part = 0; part < parts; part++) {
                        Row row = call(url, f);
                        for (int more = 1; more < calls; more++) {
                            call(url, f);
                        }
                        synchronized (pending) {
                            pending.add(row);
                            if (pending.size() >= BATCH) {
                                flush(insert, pending, db);
                            }
                        }
                    }
                }
            };
            work(pool, worker, parallel);
            flush(insert, pending, db);
        } finally {
            pool.shutdown();
        }
        return (System.nanoTime() - start) / 1e9;
    }

    private static void work(ExecutorService pool, Callable<Void> worker, int parallel) throws Exception {
        List<Callable<Void>> workers = new ArrayList<>();
        for (int i = 0; i < parallel; i++) {
            workers.add(worker);
        }
        for (Future<Void> f : pool.invokeAll(workers)) {
            f.get();
        }
    }

    private static void flush(PreparedStatement insert, List<Row> pending, Connection db) throws Exception {
        for (Row r : pending) {
            insert.setString(1, r.callRef);
            insert.setString(2, r.vessel);
            insert.setString(3, r.opens);
            insert.setString(4, r.closes);
            insert.setString(5, r.clearance);
            insert.setTimestamp(6, r.asked);
            insert.addBatch();
        }
        insert.executeBatch();
        db.commit();
        pending.clear();
    }

    private Row call(String url, String[] f) throws Exception {
        String body = "<?xml version=\"1.0\" encoding=\"UTF-8\"?><s:Envelope"
                + " xmlns:s=\"http://schemas.xmlsoap.org/soap/envelope/\">" + security + "<s:Body><t:GetTideWindow"
                + " xmlns:t=\"urn:tallow-reach:tidedesk\"><t:portCode>"
                + f[1] + "</t:portCode><t:arrival>" + LocalDateTime.parse(f[2], IN)
                + ":00</t:arrival><t:draught>" + f[4] + "</t:draught><t:vessel><t:name>" + f[5]
                + "</t:name><t:callSign>" + f[7]
                + "</t:callSign><t:grossTonnage>" + f[8] + "</t:grossTonnage></t:vessel><t:email>" + f[9]
                + "</t:email></t:GetTideWindow></s:Body></s:Envelope>";
        byte[] answer = sender.post(url, body.getBytes(StandardCharsets.UTF_8));
        String opens = null;
        String closes = null;
        String clearance = null;
        XMLStreamReader in = XML.createXMLStreamReader(new ByteArrayInputStream(answer));
        while (in.hasNext()) {
            if (in.next() == XMLStreamConstants.START_ELEMENT) {
                switch (in.getLocalName()) {
                    case "opensAt" -> opens = in.getElementText();
                    case "closesAt" -> closes = in.getElementText();
                    case "clearance" -> clearance = in.getElementText();
                    default -> {}
                }
            }
        }
        in.close();
        return new Row(f[0], f[5], opens, closes, clearance, new Timestamp(System.currentTimeMillis()));
    }
}
