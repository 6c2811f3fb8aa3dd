package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntFunction;
import org.testng.annotations.AfterClass;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** An operation whose rows are records: page by page, until it says that there are no more. */
public class OperationSourceTest {
    private final Expressions expressions = new Expressions();
    private final List<String> asked = new ArrayList<>();
    private int open;

    @AfterClass(alwaysRun = true)
    public void close() {
        expressions.close();
    }

    private OperationSource source(String rows, String more, IntFunction<String> pages) throws Exception {
        asked.clear();
        Field known = Field.of("no", "no", "integer");
        return new OperationSource(
                () -> {
                    open++;
                    return new OperationSource.Asking() {
                        @Override
                        public Node ask(Scope scope) throws IOException {
                            int page = Integer.parseInt(
                                    scope.variable("page").get(0).string());
                            asked.add(page + " after " + scope.variable("reply").size());
                            String answer = pages.apply(page);
                            if (answer == null) {
                                throw new IOException("fault Closed: not tonight");
                            }
                            try {
                                return NodeXml.read(answer);
                            } catch (Exception e) {
                                throw new IllegalStateException(e);
                            }
                        }

                        @Override
                        public void close() {
                            open--;
                        }
                    };
                },
                rows,
                more,
                List.of(known),
                expressions);
    }

    private List<String> read(RecordSource source) throws IOException {
        List<String> out = new ArrayList<>();
        try (RecordSource.Stream in = source.open()) {
            for (Node r; (r = in.next()) != null; ) {
                out.add(NodeXml.write(r));
            }
        }
        assertEquals(open, 0, "what was opened is closed");
        return out;
    }

    private static String page(int n) {
        return "<R><row><no>" + n + "1</no></row><row><no>" + n + "2</no></row><left>" + (3 - n) + "</left></R>";
    }

    @Test
    public void pagesAreAskedForUntilTheyEnd() throws Exception {
        OperationSource s = source("$reply/row", "$reply/left > 0", OperationSourceTest::page);
        List<String> records = read(s);
        assertEquals(records.size(), 6);
        assertEquals(records.get(5), "<row><no>32</no></row>");
        assertEquals(asked, List.of("1 after 0", "2 after 1", "3 after 1"));
        assertEquals(read(source("$reply/row", null, OperationSourceTest::page)).size(), 2, "one page without a rule");
        assertEquals(s.fields().get(0).name(), "no", "nobody is asked for the fields");
    }

    @Test
    public void aRowStandsAloneAndAValueBecomesAField() throws Exception {
        try (RecordSource.Stream in =
                source("$reply/row", null, OperationSourceTest::page).open()) {
            assertEquals(in.next().parent(), null);
        }
        assertEquals(
                read(source("$reply/row/no", null, OperationSourceTest::page)).get(0),
                "<record><value>11</value></record>");
    }

    @Test
    public void anEmptyPageInBetweenEndsNothing() throws Exception {
        OperationSource s =
                source("$reply/row", "$page < 3", n -> n == 2 ? "<R/>" : "<R><row><no>" + n + "</no></row></R>");
        assertEquals(read(s), List.of("<row><no>1</no></row>", "<row><no>3</no></row>"));
    }

    @Test
    public void aServiceThatDoesNotTurnThePageIsNotAskedWithoutEnd() throws Exception {
        OperationSource s = source("$reply/row", "true()", n -> page(1));
        IOException e = expectThrows(IOException.class, () -> read(s));
        assertTrue(e.getMessage().startsWith("page 2 is the same"), e.getMessage());
        assertEquals(asked.size(), 2);
    }

    @Test
    public void aFailureSaysOnWhichPage() throws Exception {
        OperationSource s = source("$reply/row", "true()", n -> n == 2 ? null : page(n));
        assertEquals(expectThrows(IOException.class, () -> read(s)).getMessage(), "page 2: fault Closed: not tonight");
    }

    @Test
    public void whileAFlowIsDesignedItIsAskedOnce() throws Exception {
        KeptSource kept = new KeptSource(source("$reply/row", "$reply/left > 0", OperationSourceTest::page));
        assertEquals(kept.record(1).orElseThrow().child("no").string(), "11");
        assertEquals(kept.record(6).orElseThrow().child("no").string(), "32");
        assertTrue(kept.record(7).isEmpty());
        try (RecordSource.Stream in = kept.open()) {
            assertEquals(in.next().child("no").string(), "11");
        }
        assertEquals(asked.size(), 3);
        assertTrue(kept.isCostly());
    }

    @Test
    public void whatCameBeforeAFailureIsThereWhileAFlowIsDesigned() throws Exception {
        KeptSource kept = new KeptSource(source("$reply/row", "true()", n -> n == 3 ? null : page(n)));
        assertEquals(kept.record(4).orElseThrow().child("no").string(), "22");
        IOException e = expectThrows(IOException.class, () -> kept.record(5));
        assertEquals(e.getMessage(), "page 3: fault Closed: not tonight");
        assertEquals(asked.size(), 3, "nobody is asked again");
    }

    @Test
    public void moreThanIsKeptIsSaidAndNotLeftOut() throws Exception {
        KeptSource kept = new KeptSource(source(
                "for $n in 1 to 100 return $reply/row[1]", "$page < 60", n -> "<R><row><no>" + n + "</no></row></R>"));
        try (RecordSource.Stream in = kept.open()) {
            for (int i = 0; i < AskedRecords.MAX_RECORDS; i++) {
                in.next();
            }
            IOException e = expectThrows(IOException.class, in::next);
            assertTrue(e.getMessage().contains("only the first 5000 records"), e.getMessage());
        }
        assertEquals(read(kept.whole()).size(), 6_000);
    }
}
