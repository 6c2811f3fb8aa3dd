package org.wirekettle.server.common;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.vertx.core.http.HttpClosedException;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.nio.channels.ClosedChannelException;
import java.sql.SQLException;
import java.util.List;
import org.apache.ibatis.exceptions.PersistenceException;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Refused;

/** Everything that goes wrong becomes a problem document: in words, and without anything internal. */
public class ProblemMappersTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private final ProblemMappers mappers = new ProblemMappers();

    /** A request's body. */
    record Body(String name, int count, List<Item> items) {
        Body {
            if ("refused".equals(name)) {
                throw Wrong.input("body.name", "Not that name.");
            }
            if ("odd".equals(name)) {
                throw new IllegalArgumentException("an odd name");
            }
        }
    }

    /** A part of it. */
    record Item(String id) {}

    private ProblemDocument json(String text) {
        return document(
                mappers.json(expectThrows(JsonProcessingException.class, () -> JSON.readValue(text, Body.class))));
    }

    private static ProblemDocument document(Response r) {
        ProblemDocument d = (ProblemDocument) r.getEntity();
        assertEquals(d.status(), r.getStatus());
        assertEquals(r.getMediaType().toString(), "application/problem+json");
        assertFalse(d.detail().contains("org.wirekettle") || d.detail().contains("Exception"), d.detail());
        return d;
    }

    @DataProvider
    Object[][] bodies() {
        return new Object[][] {
            {"{nonsense", 400, "The request is not the JSON expected: "},
            {"{\"name\":\"x\"", 400, "(line 1, column "},
            {"{\"nmae\":1}", 400, "at “nmae”, there is no such field; there are: count, items, name."},
            {"{\"items\":[{\"id\":\"a\"},{\"no\":1}]}", 400, "at “items[1].no”, there is no such field; there are: id."
            },
            {"{\"count\":\"many\"}", 400, "at count, it has another form there than it should."},
            {"{\"items\":{}}", 400, "at items, it has another form there than it should."},
            {"{\"name\":\"odd\"}", 400, "an odd name."},
            {"{\"name\":\"refused\"}", 422, "Not that name."},
        };
    }

    @Test(dataProvider = "bodies")
    public void aBodyThatDoesNotFitSaysWhere(String body, int status, String said) {
        ProblemDocument d = json(body);
        assertEquals(d.status(), status, d.detail());
        assertTrue(d.detail().contains(said), d.detail());
    }

    @Test
    public void whatIsNestedWithoutEndIsTooLarge() {
        ProblemDocument d = document(
                mappers.json(expectThrows(JsonProcessingException.class, () -> JSON.readTree("[".repeat(2_000)))));
        assertEquals(d.status() + " " + d.code(), "413 request.size");
        assertTrue(d.detail().contains("nested too deeply"), d.detail());
    }

    @Test
    public void aRefusalKeepsItsCodePlaceAndStatus() {
        ProblemDocument read =
                document(mappers.refused(new Refused("wsdl.root", new Place("a.wsdl", 3, 7), "It is no description.")));
        assertEquals(read.status() + " " + read.code() + " " + read.title(), "422 wsdl.root Cannot be done");
        assertEquals(read.place().toString(), "a.wsdl, line 3, column 7");
        assertEquals(document(mappers.refused(Wrong.notFound("flow", 7))).detail(), "There is no flow 7.");
        assertEquals(document(mappers.refused(Wrong.notFound("flow", 7))).title(), "Not found");
        assertEquals(
                document(mappers.refused(Wrong.conflict("flow.version", "Changed.")))
                        .title(),
                "Conflict");
        assertEquals(document(mappers.refused(Wrong.forbidden("No."))).title(), "Not allowed");
        assertNull(document(mappers.refused(Wrong.malformed("What?"))).place());
        assertEquals(document(mappers.web(new NotFoundException())).detail(), "There is nothing at this address.");
    }

    @DataProvider
    Object[][] states() {
        return new Object[][] {
            {"08006", 503, "database.away"},
            {"57P01", 503, "database.away"},
            {"53300", 503, "database.away"},
            {"", 503, "database.away"},
            {null, 503, "database.away"},
            {"22021", 422, "request.nul"},
            {"42P01", 500, "internal"},
            {"23505", 500, "internal"},
        };
    }

    @Test(dataProvider = "states")
    public void aDatabaseThatIsAwayIsNoDefect(String state, int status, String code) {
        SQLException sql = new SQLException("secret detail of the database", state);
        ProblemDocument d = document(mappers.database(new PersistenceException("x", new RuntimeException(sql))));
        assertEquals(d.status() + " " + d.code(), status + " " + code);
        assertFalse(d.detail().contains("secret"), d.detail());
    }

    @Test
    public void whoLeavesInTheMiddleIsTold400AndADefect500() {
        IOException gone = new IOException(new IOException(new HttpClosedException("Connection was closed")));
        assertEquals(document(mappers.io(gone, false)).code(), "request.cut");
        assertEquals(document(mappers.io(new IOException("reset"), true)).code(), "request.cut");
        assertEquals(
                document(mappers.io(new IOException(new ClosedChannelException()), false))
                        .code(),
                "request.cut");
        assertEquals(document(mappers.io(new ClosedChannelException(), false)).code(), "internal");
        assertEquals(
                document(mappers.unexpected(new IllegalStateException("inner workings")))
                        .status(),
                500);
    }
}
