package org.wirekettle.server.common;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.exc.StreamConstraintsException;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.exc.MismatchedInputException;
import com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException;
import io.vertx.core.http.HttpClosedException;
import io.vertx.ext.web.RoutingContext;
import jakarta.ws.rs.WebApplicationException;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.nio.channels.ClosedChannelException;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import org.apache.ibatis.exceptions.PersistenceException;
import org.jboss.logging.Logger;
import org.jboss.resteasy.reactive.server.ServerExceptionMapper;
import org.wirekettle.problem.Refused;
import org.wirekettle.problem.Show;

/** Turns what goes wrong into problem documents. Nothing internal leaves; what is not expected is logged whole. */
public final class ProblemMappers {
    private static final Logger LOG = Logger.getLogger(ProblemMappers.class);
    private static final String TYPE = "application/problem+json";
    private static final Map<Integer, String> TITLES = Map.of(
            400, "Malformed request",
            403, "Not allowed",
            404, "Not found",
            409, "Conflict",
            422, "Cannot be done");

    @ServerExceptionMapper
    public Response refused(Refused e) {
        int status = e instanceof Wrong w ? w.status() : 422;
        return answer(ProblemDocument.of(status, TITLES.get(status), e.code(), e.getMessage(), e.place()));
    }

    @ServerExceptionMapper
    public Response json(JsonProcessingException e) {
        if (e instanceof StreamConstraintsException || e.getCause() instanceof StreamConstraintsException) {
            return answer(ProblemDocument.of(
                    413,
                    "Too large",
                    "request.size",
                    "A text in the request is too long, or it is nested too deeply. Files go to POST /api/data/files"
                            + " as they are, and are named by their id then; upload it there.",
                    null));
        }
        for (Throwable cause = e.getCause(); cause != null; cause = cause.getCause()) {
            if (cause instanceof Refused r) {
                return refused(r);
            }
        }
        return answer(ProblemDocument.of(
                400, "Malformed request", "request.json", "The request is not the JSON expected: " + words(e), null));
    }

    /** Named, because the framework's own mapper for this one says nothing. */
    @ServerExceptionMapper
    public Response mismatched(MismatchedInputException e) {
        return json(e);
    }

    /** Where in the request, and what is wrong there, without our classes' names. */
    private static String words(JsonProcessingException e) {
        if (!(e instanceof JsonMappingException m)) {
            return e.getOriginalMessage()
                    + (e.getLocation() == null
                            ? ""
                            : " (line " + e.getLocation().getLineNr() + ", column "
                                    + e.getLocation().getColumnNr() + ")");
        }
        StringBuilder at = new StringBuilder();
        for (JsonMappingException.Reference r : m.getPath()) {
            at.append(
                    r.getFieldName() == null
                            ? "[" + r.getIndex() + "]"
                            : (at.length() == 0 ? "" : ".") + r.getFieldName());
        }
        if (e instanceof UnrecognizedPropertyException u) {
            List<String> known = u.getKnownPropertyIds().stream()
                    .map(String::valueOf)
                    .sorted()
                    .toList();
            return "at " + Show.value(at.toString()) + ", there is no such field; there are: "
                    + String.join(", ", known) + ".";
        }
        Throwable cause = e.getCause();
        String why = cause instanceof IllegalArgumentException && cause.getMessage() != null
                ? cause.getMessage()
                : "it has another form there than it should";
        return (at.length() == 0 ? "" : "at " + at + ", ") + why + ".";
    }

    @ServerExceptionMapper
    public Response web(WebApplicationException e) {
        if (e.getCause() instanceof JsonProcessingException j) {
            return json(j);
        }
        int status = e.getResponse().getStatus();
        return answer(ProblemDocument.of(
                status,
                e.getResponse().getStatusInfo().getReasonPhrase(),
                "http." + status,
                status == 404 ? "There is nothing at this address." : String.valueOf(e.getMessage()),
                null));
    }

    /** What the server's own database said. While it is away the request may simply be made again later. */
    @ServerExceptionMapper
    public Response database(PersistenceException e) {
        SQLException sql = DatabaseAway.sql(e).orElse(null);
        String state = sql == null || sql.getSQLState() == null ? "" : sql.getSQLState();
        if (state.equals("22021") || state.equals("22P05")) {
            return answer(ProblemDocument.of(
                    422,
                    "Cannot be done",
                    "request.nul",
                    "A text in the request has a NUL character; it cannot be kept.",
                    null));
        }
        if (sql != null && !DatabaseAway.is(sql)) {
            return unexpected(e);
        }
        LOG.warnf("the server's database is away: %s", sql == null ? e.getMessage() : sql.getMessage());
        return answer(ProblemDocument.of(
                503,
                "Database away",
                "database.away",
                "The server's database cannot be reached at the moment. Nothing was changed; it goes on by itself once"
                        + " the database is back.",
                null));
    }

    /** Whoever asked has gone while they were sending: nobody reads the answer, and nothing is wrong here. */
    @ServerExceptionMapper
    public Response io(IOException e, RoutingContext request) {
        return io(e, request.response().closed());
    }

    /**
     * A closed channel inside another exception is the connection's: the framework wraps it so, and says it a moment
     * before the answer knows that it is closed. One of our own files comes as it is, and is a defect.
     */
    Response io(IOException e, boolean hasGone) {
        if (hasGone
                || e.getCause() instanceof ClosedChannelException
                || DatabaseAway.causes(e).anyMatch(HttpClosedException.class::isInstance)) {
            LOG.debug("whoever asked has gone", e);
            return answer(ProblemDocument.of(
                    400, "Malformed request", "request.cut", "The request ended before it was complete.", null));
        }
        return unexpected(e);
    }

    @ServerExceptionMapper
    public Response unexpected(Exception e) {
        LOG.error("a request failed unexpectedly", e);
        return answer(ProblemDocument.of(
                500,
                "Failed",
                "internal",
                "Something went wrong here, not with your input. The server's log has the details.",
                null));
    }

    private static Response answer(ProblemDocument p) {
        return Response.status(p.status()).type(TYPE).entity(p).build();
    }
}
