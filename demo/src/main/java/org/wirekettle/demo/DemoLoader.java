package org.wirekettle.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/**
 * Puts the demo world into a running Wire Kettle through its API: the harbour's database, contract, connections, data
 * and a finished flow.
 */
@Command(name = "load", description = "Loads the demo into a running server.")
public final class DemoLoader implements Callable<Integer> {
    private static final String USER = "mira";
    private static final String PASSWORD = "tallow-reach";
    /** A colleague, who uses run pages only. */
    private static final String GUEST = "pia";

    private final ObjectMapper json = new ObjectMapper();
    private final HttpClient http = HttpClient.newHttpClient();
    private String cookie;

    @Option(names = "--server", required = true, description = "the server's address")
    private String server;

    @Option(names = "--services", required = true, description = "the simulated services' address")
    private String services;

    @Option(names = "--tls-services", description = "their address over TLS")
    private String tlsServices;

    @Option(names = "--broker", description = "the broker's address")
    private String broker;

    /** Passwords come from the environment: an argument list can be read by everybody on the machine. */
    private final String adminPassword = System.getenv().getOrDefault("WK_ADMIN_PASSWORD", "");

    @Option(names = "--database", required = true, description = "JDBC address of the harbour's database")
    private String database;

    @Option(names = "--database-user", required = true)
    private String databaseUser;

    private final String databasePassword = System.getenv().getOrDefault("WK_DATABASE_PASSWORD", "");

    @Option(names = "--data", required = true, description = "folder with the demo's files")
    private Path data;

    @Override
    public Integer call() throws Exception {
        harbour();
        account();
        JsonNode flows = send("GET", "/api/flows", null);
        connections();
        contract("TideDesk", "/tidedesk?wsdl");
        contract("PilotDesk", "/pilotdesk?wsdl");
        contract("CargoManifest", "/cargo/cargo.wsdl");
        contract("HarbourDues", "/dues?wsdl");
        contract("MarineBulletin", "/bulletin?wsdl");
        contract("CrewLedger", "/crew/openapi.yaml");
        data();
        flow(flows, "Tide windows for tonight", "tide_windows.flow.json");
        flow(flows, "Pilot orders for the night", "pilot_orders.flow.json");
        flow(flows, "One list for each desk", "desk_lists.flow.json");
        flow(flows, "Crew of tonight's ships", "crew_tonight.flow.json");
        flow(flows, "Manifests for the cargo desk", "manifests.flow.json");
        flow(flows, "Bulletins for the watch", "bulletins.flow.json");
        flow(flows, "Cases with their harbours", "cases_listed.flow.json");
        flow(flows, "Pilot orders by station", "station_orders.flow.json");
        flow(flows, "Arrival notices for the harbour master", "arrival_notices.flow.json");
        flow(flows, "Tide windows when asked", "tides_asked.flow.json");
        schedule("bulletins each quarter", "Bulletins for the watch");
        published("tide windows", "Tide windows when asked", "http", "tide_http.json");
        published("tide windows by SOAP", "Tide windows when asked", "soap", "tide_soap.json");
        published("tide page", "Tide windows when asked", "page", "tide_page.json");
        if (broker != null) {
            flow(flows, "Pilot wishes by queue", "pilot_wishes.flow.json");
            published("pilot wishes", "Pilot wishes by queue", "queue", "pilot_wishes_queue.json");
        }
        System.out.println("demo loaded; log in as " + USER + " with the password " + PASSWORD);
        return 0;
    }

    private void flow(JsonNode flows, String name, String file) throws IOException, InterruptedException {
        if (!has(flows, name)) {
            ObjectNode flow = json.createObjectNode().put("name", name);
            flow.set("definition", definition(file));
            send("POST", "/api/flows", flow);
        }
    }

    /** Samples may be files of their own. */
    private JsonNode definition(String file) throws IOException {
        JsonNode out = json.readTree(Files.readString(data.resolve(file)));
        for (JsonNode sample : out.findParents("json")) {
            String named = sample.get("json").asText();
            if (named.endsWith(".json")) {
                ((ObjectNode) sample).put("json", Files.readString(data.resolve(named)));
            }
        }
        return out;
    }

    /** Paused: whoever looks at the demo decides whether it runs by itself. One that is there stays as it is. */
    private void schedule(String name, String flow) throws IOException, InterruptedException {
        if (has(send("GET", "/api/triggers", null), name)) {
            return;
        }
        ObjectNode trigger = json.createObjectNode()
                .put("kind", "schedule")
                .put("flow", idOf(flow))
                .put("environment", "test")
                .put("on", false);
        trigger.putObject("settings").put("cron", "*/15 6-20 * * *").put("zone", "Europe/Oslo");
        send("PUT", "/api/triggers/" + name.replace(" ", "%20"), trigger);
    }

    private long idOf(String flow) throws IOException, InterruptedException {
        for (JsonNode f : send("GET", "/api/flows", null)) {
            if (f.get("name").asText().equals(flow)) {
                return f.get("id").asLong();
            }
        }
        throw new IOException("the flow " + flow + " is not there");
    }

    /** Whatever asks a flow: in files of its own, and ready to be tried. One that is there stays as it is. */
    private void published(String name, String flow, String way, String file) throws IOException, InterruptedException {
        if (!has(send("GET", "/api/endpoints", null), name)) {
            ObjectNode endpoint =
                    json.createObjectNode().put("flow", idOf(flow)).put("environment", "test");
            endpoint.set(way, json.readTree(Files.readString(data.resolve(file))));
            send("PUT", "/api/endpoints/" + name.replace(" ", "%20"), endpoint);
        }
    }

    /** An account that is there keeps its sessions; the administrator's password may have been changed since. */
    private void account() throws IOException, InterruptedException {
        if (!logIn(USER, PASSWORD)) {
            if (!logIn("admin", adminPassword)) {
                throw new IOException(
                        "neither " + USER + " nor admin can log in with the passwords they were given at first");
            }
            send(
                    "PUT",
                    "/api/accounts/" + USER,
                    json.createObjectNode().put("password", PASSWORD).put("role", "builder"));
            send(
                    "PUT",
                    "/api/accounts/" + GUEST,
                    json.createObjectNode().put("password", PASSWORD).put("role", "guest"));
            logIn(USER, PASSWORD);
        }
    }

    /** The services may have got another port since; a contract that was not changed is left as it is. */
    private void contract(String name, String wsdl) throws IOException, InterruptedException {
        JsonNode found = null;
        for (JsonNode c : send("GET", "/api/contracts", null)) {
            found = c.get("name").asText().equals(name) ? c : found;
        }
        if (found == null || !found.get("source").asText().startsWith(services + "/")) {
            send(
                    "POST",
                    "/api/contracts",
                    json.createObjectNode().put("url", services + wsdl).put("name", name));
        }
    }

    private void harbour() throws IOException, SQLException {
        try (Connection c = DriverManager.getConnection(database, databaseUser, databasePassword);
                Statement s = c.createStatement()) {
            s.execute(Files.readString(data.resolve("harbour.sql")));
        }
    }

    private static boolean has(JsonNode list, String name) {
        for (JsonNode n : list) {
            if (n.path("name").asText().equals(name)) {
                return true;
            }
        }
        return false;
    }

    private boolean logIn(String name, String password) throws IOException, InterruptedException {
        cookie = null;
        String body = json.createObjectNode()
                .put("name", name)
                .put("password", password)
                .toString();
        HttpResponse<String> r = exchange("POST", "/api/session", body, "application/json");
        cookie = r.headers()
                .firstValue("set-cookie")
                .map(c -> c.substring(0, c.indexOf(';')))
                .orElse(null);
        return cookie != null;
    }

    private void connections() throws IOException, InterruptedException {
        service("tide-desk", "/tidedesk");
        service("pilot-desk", "/pilotdesk");
        service("cargo-desk", "/cargo");
        service("dues-office", "/dues");
        service("bulletin", "/bulletin");
        service("registry", "/registry");
        crewLedger();
        if (broker != null) {
            ObjectNode queues = json.createObjectNode().put("kind", "queue");
            ArrayNode names = queues.putObject("settings").putArray("queues");
            List.of("pilotage.wanted", "pilotage.booked", "pilotage.failed").forEach(names::add);
            addresses(queues, broker);
            send("PUT", "/api/connections/harbour-queues", queues);
        }
        if (tlsServices != null && !leadsTo(tlsServices)) {
            service("tide-desk-tls", URI.create(tlsServices + "/tidedesk"));
        }
        ObjectNode harbour = json.createObjectNode().put("kind", "database");
        harbour.putObject("settings").put("user", databaseUser).put("secret", "harbour");
        harbour.putObject("secrets").put("harbour", databasePassword);
        addresses(harbour, database);
        send("PUT", "/api/connections/harbour", harbour);
    }

    /** Whom somebody has trusted there stays so. */
    private boolean leadsTo(String url) throws IOException, InterruptedException {
        return send("GET", "/api/connections", null).toString().contains(url + "/");
    }

    private void service(String name, String path) throws IOException, InterruptedException {
        service(name, URI.create(services + path));
    }

    private void service(String name, URI address) throws IOException, InterruptedException {
        ObjectNode c = json.createObjectNode().put("kind", "soap");
        addresses(c, address.toString());
        send("PUT", "/api/connections/" + name, c);
    }

    /** Its log-in is one for tokens. */
    private void crewLedger() throws IOException, InterruptedException {
        ObjectNode c = json.createObjectNode().put("kind", "soap");
        c.putObject("settings")
                .put("logIn", "oauth")
                .put("user", TokenDesk.CLIENT)
                .put("secret", "crew-ledger")
                .put("tokenUrl", services + "/token")
                .put("scope", "crew");
        c.putObject("secrets").put("crew-ledger", TokenDesk.SECRET);
        addresses(c, services + "/crew");
        send("PUT", "/api/connections/crew-ledger", c);
    }

    private static void addresses(ObjectNode connection, String both) {
        ObjectNode environments = connection.putObject("environments");
        environments.putObject("test").put("url", both);
        environments.putObject("live").put("url", both);
    }

    private void data() throws IOException, InterruptedException {
        file("port_calls.csv");
        file("pilot_batches.csv");
        file("manifests.json");
        file("urgencies.csv");
        file("sea_areas.csv");
        ObjectNode cases = file("cases.xlsx", CasesWorkbook.of(data.resolve("cases.csv")));
        ((ObjectNode) cases.get("settings"))
                .putObject("sheet")
                .put("sheet", "Cases")
                .put("range", "A3")
                .put("header", true);
        source("cases.xlsx", cases);
        ObjectNode orders = file("order_lines.csv");
        ObjectNode group = ((ObjectNode) orders.get("settings")).putObject("group");
        group.put("count", 0).putArray("keys").add("batch_ref").add("station");
        source("order_lines.csv", orders);
        ObjectNode vessels = json.createObjectNode().put("kind", "sql");
        vessels.putObject("settings")
                .put("connection", "harbour")
                .put(
                        "query",
                        "SELECT vessel_no, name, call_sign, gt, draught_m\nFROM harbour.vessel\nORDER BY vessel_no");
        send("PUT", "/api/data/sources/vessels", vessels);
        table("tide_window");
        table("pilot_order");
        table("pilot_waiting");
        table("tug_order");
        byKey("manifest", "manifest_no");
        byKey("bulletin", "bulletin_id");
        byKey("watch", "bulletin_id", "watch");
        jsonFile("manifest_lines");
        jsonFile("cases_listed");
        jsonFile("station_orders");
        notices();
        ports();
        list("desk_list");
        list("crew_tonight");
    }

    private void jsonFile(String name) throws IOException, InterruptedException {
        ObjectNode target = json.createObjectNode().put("kind", "json");
        target.putObject("settings").put("file", name + ".json").put("replace", true);
        send("PUT", "/api/data/targets/" + name, target);
    }

    /** What the harbour master wants to be told of ships, and the file of it. */
    private void notices() throws IOException, InterruptedException {
        ObjectNode shape = json.createObjectNode().put("kind", "xsd");
        shape.putObject("settings")
                .putArray("files")
                .addObject()
                .put("name", "arrival_notice.xsd")
                .put("text", Files.readString(data.resolve("arrival_notice.xsd")));
        send("PUT", "/api/data/shapes/arrival_notice", shape);
        ObjectNode target = json.createObjectNode().put("kind", "xml");
        target.putObject("settings")
                .put("file", "arrival_notices.xml")
                .put("replace", true)
                .put("root", "arrivalNotices");
        send("PUT", "/api/data/targets/arrival_notices", target);
    }

    /** The ports that TideDesk serves, asked of it. */
    private void ports() throws IOException, InterruptedException {
        ObjectNode ports = json.createObjectNode().put("kind", "operation");
        ObjectNode asked =
                ports.putObject("settings").put("connection", "tide-desk").putObject("asked");
        asked.put("contract", "TideDesk")
                .put("port", "TideDesk12")
                .put("operation", "ListPorts")
                .put("rows", "$reply/port");
        ArrayNode known = asked.putArray("known");
        for (String name : new String[] {"code", "name", "depth"}) {
            known.addObject()
                    .put("name", name)
                    .put("label", name)
                    .put("type", name.equals("depth") ? "decimal" : "string");
        }
        send("PUT", "/api/data/sources/ports", ports);
    }

    private void list(String name) throws IOException, InterruptedException {
        ObjectNode list = json.createObjectNode().put("kind", "csv");
        list.putObject("settings")
                .put("file", name + ".csv")
                .put("replace", true)
                .putObject("format")
                .put("delimiter", ";")
                .put("quote", "\"")
                .put("encoding", "UTF-8")
                .put("header", true);
        send("PUT", "/api/data/targets/" + name, list);
    }

    /** @return the source's settings, as the server recognises the file */
    private ObjectNode file(String file) throws IOException, InterruptedException {
        return file(file, Files.readAllBytes(data.resolve(file)));
    }

    private ObjectNode file(String file, byte[] bytes) throws IOException, InterruptedException {
        HttpResponse<String> uploaded =
                exchange("POST", "/api/data/files?name=" + file, bytes, "application/octet-stream");
        JsonNode found = json.readTree(uploaded.body());
        ObjectNode source =
                json.createObjectNode().put("kind", found.get("kind").asText());
        source.set("settings", found.get("settings"));
        source(file, source);
        return source;
    }

    private void source(String file, ObjectNode source) throws IOException, InterruptedException {
        send("PUT", "/api/data/sources/" + file.substring(0, file.indexOf('.')), source);
    }

    /** Rows are inserted, or those that are there are updated. */
    private void byKey(String name, String... keys) throws IOException, InterruptedException {
        ObjectNode target = json.createObjectNode().put("kind", "sql");
        ArrayNode by = target.putObject("settings")
                .put("connection", "harbour")
                .put("table", "harbour." + name)
                .put("mode", "upsert")
                .putArray("keys");
        List.of(keys).forEach(by::add);
        send("PUT", "/api/data/targets/" + name, target);
    }

    private void table(String name) throws IOException, InterruptedException {
        ObjectNode target = json.createObjectNode().put("kind", "sql");
        target.putObject("settings").put("connection", "harbour").put("table", "harbour." + name);
        send("PUT", "/api/data/targets/" + name, target);
    }

    private JsonNode send(String method, String path, JsonNode body) throws IOException, InterruptedException {
        HttpResponse<String> r = exchange(method, path, body == null ? null : body.toString(), "application/json");
        if (r.statusCode() >= 300) {
            throw new IOException(method + " " + path + " was answered with " + r.statusCode() + ": " + r.body());
        }
        return r.body().isEmpty() ? json.nullNode() : json.readTree(r.body());
    }

    private HttpResponse<String> exchange(String method, String path, String body, String type)
            throws IOException, InterruptedException {
        return exchange(method, path, body == null ? null : body.getBytes(StandardCharsets.UTF_8), type);
    }

    private HttpResponse<String> exchange(String method, String path, byte[] body, String type)
            throws IOException, InterruptedException {
        HttpRequest.Builder b = HttpRequest.newBuilder(URI.create(server + path))
                .header("X-Wire-Kettle", "1")
                .header("Content-Type", type);
        if (cookie != null) {
            b.header("Cookie", cookie);
        }
        return http.send(
                b.method(
                                method,
                                body == null
                                        ? HttpRequest.BodyPublishers.noBody()
                                        : HttpRequest.BodyPublishers.ofByteArray(body))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }
}
