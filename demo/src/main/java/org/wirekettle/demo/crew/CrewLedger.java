package org.wirekettle.demo.crew;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.vertx.core.http.HttpServerRequest;
import java.time.LocalDate;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.demo.SoapText;

/** Who is on board: plain HTTP and JSON, described by OpenAPI. Ships whose number ends with 3 are not in its books. */
public final class CrewLedger {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final String[] FIRST = {"Ada", "Bo", "Corin", "Dag", "Edda", "Finn", "Greta", "Hal", "Ines", "Jory"};
    private static final String[] LAST = {"Marsh", "Sandell", "Quay", "Holm", "Tarn", "Weir", "Skerry"};
    private static final String[] RANKS = {"master", "mate", "engineer", "cook", "deckhand"};
    private static final int MOST_ON_BOARD = 12;
    private static final Pattern MEMBERS = Pattern.compile("/crew/ships/(\\w+)/members");
    private static final Pattern CHANGES = Pattern.compile("/crew/ships/(\\w+)/changes");
    private static final Pattern CHANGE = Pattern.compile("/crew/changes/(\\d+)");

    private final Predicate<String> isKnown;
    private final AtomicInteger last = new AtomicInteger(400);
    private final Map<Integer, ObjectNode> changes = new ConcurrentHashMap<>();

    /** @param isKnown whether a header Authorization lets in */
    public CrewLedger(Predicate<String> isKnown) {
        this.isKnown = isKnown;
    }

    /** Whether a path is one of ours. */
    public static boolean isFor(String path) {
        return path.startsWith("/crew/");
    }

    public void handle(HttpServerRequest r, String body) {
        if (r.path().equals("/crew/openapi.yaml")) {
            r.response().putHeader("content-type", "application/yaml").end(SoapText.resource("/crew/openapi.yaml", ""));
            return;
        }
        if (!isKnown.test(r.getHeader("Authorization"))) {
            r.response().putHeader("WWW-Authenticate", "Bearer realm=\"ledger\"");
            problem(r, 401, "Log in first", "A token of the harbour's desk is wanted.");
            return;
        }
        Matcher members = MEMBERS.matcher(r.path());
        Matcher ship = CHANGES.matcher(r.path());
        Matcher change = CHANGE.matcher(r.path());
        String method = r.method().name();
        if (members.matches() && method.equals("GET")) {
            members(r, members.group(1));
        } else if (ship.matches() && method.equals("POST")) {
            announce(r, ship.group(1), body);
        } else if (change.matches() && (method.equals("GET") || method.equals("DELETE"))) {
            change(r, Integer.parseInt(change.group(1)), method);
        } else {
            problem(r, 404, "Nothing there", "The ledger has no page " + r.path() + ".");
        }
    }

    private static boolean isInBooks(String vesselNo) {
        return vesselNo.matches("\\d{7}") && !vesselNo.endsWith("3");
    }

    private static int onBoard(String vesselNo) {
        return 3 + Math.floorMod(vesselNo.hashCode(), 8);
    }

    private void members(HttpServerRequest r, String vesselNo) {
        if (!isInBooks(vesselNo)) {
            problem(r, 404, "Unknown ship", "No ship has the number " + vesselNo + ".");
            return;
        }
        Set<String> ranks = new HashSet<>(r.params().getAll("rank"));
        int limit = r.getParam("limit") == null ? 20 : Integer.parseInt(r.getParam("limit"));
        ArrayNode out = JSON.createArrayNode();
        for (int i = 0; i < onBoard(vesselNo); i++) {
            ObjectNode m = member(vesselNo, i);
            if (out.size() < limit
                    && (ranks.isEmpty() || ranks.contains(m.get("rank").asText()))) {
                out.add(m);
            }
        }
        r.response().putHeader("X-On-Board", Integer.toString(onBoard(vesselNo)));
        answer(r, 200, "application/json", out);
    }

    private static ObjectNode member(String vesselNo, int i) {
        int seed = Math.floorMod(vesselNo.hashCode() * 31 + i * 7, 10_000);
        ObjectNode out = JSON.createObjectNode()
                .put("memberNo", seed * 10 + i)
                .put("name", FIRST[seed % FIRST.length] + " " + LAST[(seed / 3) % LAST.length])
                .put("rank", RANKS[Math.min(i, RANKS.length - 1)])
                .put("since", LocalDate.of(2031, 1, 1).minusDays(seed % 900).toString());
        ObjectNode paper = out.putArray("papers").addObject().put("kind", "seaman's book");
        paper.put(
                "until",
                i % 4 == 3
                        ? null
                        : LocalDate.of(2032, 1, 1).plusDays(seed % 700).toString());
        return out;
    }

    private void announce(HttpServerRequest r, String vesselNo, String body) {
        String agency = r.getHeader("X-Agency");
        if (agency == null || agency.length() < 2) {
            problem(r, 400, "Who asks?", "The header X-Agency is missing.");
            return;
        }
        JsonNode change;
        try {
            change = JSON.readTree(body);
        } catch (JsonProcessingException e) {
            problem(r, 400, "Not readable", "The body is no JSON.");
            return;
        }
        if (!change.path("at").isTextual() || change.path("steps").isEmpty()) {
            problem(r, 400, "Not complete", "A change has a time and at least one step.");
            return;
        }
        if (!isInBooks(vesselNo)) {
            problem(r, 404, "Unknown ship", "No ship has the number " + vesselNo + ".");
            return;
        }
        int after = onBoard(vesselNo);
        for (JsonNode s : change.path("steps")) {
            String way = s.path("way").asText();
            boolean isJoining = way.equals("joins") && s.path("name").isTextual();
            boolean isLeaving = way.equals("leaves") && s.path("memberNo").isInt();
            if (!isJoining && !isLeaving) {
                problem(r, 400, "Not complete", "A step leaves with a memberNo, or joins with a name.");
                return;
            }
            after += isJoining ? 1 : -1;
        }
        if (after > MOST_ON_BOARD) {
            problem(r, 409, "No bunk left", "There would be " + after + " on board; there are 12 bunks.");
            return;
        }
        int no = last.incrementAndGet();
        ObjectNode out = JSON.createObjectNode()
                .put("changeNo", no)
                .put("vesselNo", vesselNo)
                .put("state", "announced")
                .put("onBoard", after);
        changes.put(no, out);
        r.response().putHeader("Location", "/crew/changes/" + no);
        answer(r, 201, "application/json", out);
    }

    private void change(HttpServerRequest r, int no, String method) {
        ObjectNode found = method.equals("GET") ? changes.get(no) : changes.remove(no);
        if (found == null) {
            problem(r, 404, "Unknown change", "No change has the number " + no + ".");
        } else if (method.equals("GET")) {
            answer(r, 200, "application/json", found);
        } else {
            r.response().setStatusCode(204).end();
        }
    }

    private static void problem(HttpServerRequest r, int status, String title, String detail) {
        answer(
                r,
                status,
                "application/problem+json",
                JSON.createObjectNode()
                        .put("title", title)
                        .put("status", status)
                        .put("detail", detail));
    }

    private static void answer(HttpServerRequest r, int status, String type, JsonNode body) {
        r.response().setStatusCode(status).putHeader("content-type", type).end(body.toString());
    }
}
