package org.wirekettle.call;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.testng.annotations.Test;
import org.wirekettle.call.FailureCode.Reached;

/** The table of failures: each told apart, and which may have reached the service. */
public class FailureCodeTest {
    @Test
    public void numbersAndCodesAreEachOnesOwnAndFitTheirByte() {
        Set<Integer> numbers = new HashSet<>();
        Set<String> codes = new HashSet<>();
        for (FailureCode c : FailureCode.values()) {
            assertTrue(numbers.add(c.number()) && c.number() > 0 && c.number() < 64, c.code());
            assertTrue(codes.add(c.code()), c.code());
            assertEquals(FailureCode.numbered(c.number()).orElseThrow(), c);
            assertTrue(c.todo().matches(".*[.?]") && c.todo().length() > 20, c.code());
        }
        assertTrue(FailureCode.numbered(0).isEmpty(), "no failure");
    }

    @Test
    public void theListInTheDocumentsHasEachWithWhetherItReachedTheService() throws Exception {
        String list = Files.readString(Path.of("../docs/connections.md"));
        for (FailureCode c : FailureCode.values()) {
            String reached =
                    switch (c.reached()) {
                        case NO -> "no";
                        case UNKNOWN -> "not known";
                        case YES -> "it answered";
                    };
            assertTrue(
                    list.matches("(?s).*\\| `" + c.code() + "( 503| Name| CODE)?` +\\| " + reached + " +\\|.*"),
                    c.code());
        }
    }

    @Test
    public void whatMayHaveReachedTheServiceIsSaidInOnePlace() {
        List<String> unknown = Arrays.stream(FailureCode.values())
                .filter(c -> c.reached() == Reached.UNKNOWN)
                .map(FailureCode::code)
                .toList();
        assertEquals(
                unknown,
                List.of("no answer", "answer time-out", "reset", "cut short", "not HTTP", "too large", "ended"));
        for (FailureCode c : FailureCode.values()) {
            c.group().ifPresent(g -> assertEquals(c.reached(), g.reached(), c.code()));
        }
    }

    @Test
    public void aFlowTestsACodeItsGroupOrItsFamily() {
        assertTrue(FailureCode.isAmong(List.of("refused"), "refused"));
        assertTrue(FailureCode.isAmong(List.of("unreachable"), "refused"), "its group");
        assertTrue(FailureCode.isAmong(List.of("unreachable"), "TLS untrusted"));
        assertTrue(FailureCode.isAmong(List.of("unreadable answer"), "not SOAP"));
        assertTrue(FailureCode.isAmong(List.of("HTTP 5*"), "HTTP 503"));
        assertTrue(FailureCode.isAmong(List.of("fault *"), "fault UnknownPort"));
        assertFalse(FailureCode.isAmong(List.of("HTTP 5*"), "HTTP 404"));
        assertFalse(FailureCode.isAmong(List.of("no answer"), "refused"));
        assertFalse(FailureCode.isAmong(List.of("refused"), "unreachable"), "what an earlier version kept");
        assertEquals(FailureCode.of("HTTP 429").orElseThrow(), FailureCode.HTTP_STATUS);
        assertTrue(FailureCode.of("draught does not fit").isEmpty());
    }
}
