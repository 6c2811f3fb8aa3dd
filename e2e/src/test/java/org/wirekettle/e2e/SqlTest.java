package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNotNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.sql.Connection;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.SqlParameters;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.connector.SqlTarget;
import org.wirekettle.connector.TableWrite;
import org.wirekettle.expression.Expressions;
import org.wirekettle.record.Node;

/** Queries and tables of a real PostgreSQL. */
public class SqlTest {
    private static final String DATABASE = "wk_sql_" + ProcessHandle.current().pid();

    @BeforeClass
    public void database() throws Exception {
        try (Connection c = WireKettle.connect("postgres");
                Statement s = c.createStatement()) {
            s.execute("CREATE DATABASE " + DATABASE);
        }
        execute("CREATE TABLE t (id bigint PRIMARY KEY, name text NOT NULL, \"at time\" timestamptz, depth"
                + " numeric(4,1), free boolean, day date, serial integer GENERATED ALWAYS AS IDENTITY)");
    }

    @AfterClass(alwaysRun = true)
    public void drop() throws Exception {
        try (Connection c = WireKettle.connect("postgres");
                Statement s = c.createStatement()) {
            s.execute("DROP DATABASE IF EXISTS " + DATABASE + " WITH (FORCE)");
        }
    }

    private static void execute(String sql) throws Exception {
        try (Connection c = WireKettle.connect(DATABASE);
                Statement s = c.createStatement()) {
            s.execute(sql);
        }
    }

    private static SqlTarget target() {
        return new SqlTarget(() -> WireKettle.connect(DATABASE), "t", TableWrite.INSERT);
    }

    private static Node row(Object... namesAndValues) {
        Node out = new Node("", "row");
        for (int i = 0; i < namesAndValues.length; i += 2) {
            out.add(Node.leaf((String) namesAndValues[i], (String) namesAndValues[i + 1]));
        }
        return out;
    }

    private static List<Node> read(String query) throws Exception {
        List<Node> out = new ArrayList<>();
        try (RecordSource.Stream in = new SqlSource(() -> WireKettle.connect(DATABASE), query).open()) {
            for (Node n; (n = in.next()) != null; ) {
                out.add(n);
            }
        }
        return out;
    }

    @Test
    public void columnsAreFieldsAndGeneratedOnesAreLeftOut() throws Exception {
        try (Connection c = WireKettle.connect(DATABASE)) {
            List<Field> columns = SqlTarget.columns(c, "t");
            assertEquals(
                    columns.stream().map(f -> f.name() + " " + f.type()).toList(),
                    List.of(
                            "id integer",
                            "name string",
                            "at_x0020_time dateTime",
                            "depth decimal",
                            "free boolean",
                            "day date"));
            assertEquals(columns.get(0).key(), Boolean.TRUE);
            assertEquals(columns.get(1).required(), Boolean.TRUE);
            assertEquals(
                    expectThrows(IOException.class, () -> SqlTarget.columns(c, "nothing"))
                            .getMessage(),
                    "there is no table nothing");
        }
    }

    @Test
    public void whatIsWrittenIsReadBackInXsdForms() throws Exception {
        try (SqlTarget t = target()) {
            RecordTarget.Prepared p = t.prepare(List.of(
                    row(
                            "id",
                            "1",
                            "name",
                            "Ä; 'x'",
                            "at_x0020_time",
                            "2031-04-02T21:40:00Z",
                            "depth",
                            "9.4",
                            "free",
                            "true",
                            "day",
                            "2031-04-02"),
                    row("id", "2.0", "name", "", "at_x0020_time", "", "depth", "")));
            assertEquals(p.refused(), Map.of());
            t.commit();
            assertTrue(t.wasCommitted(p.token()));
        }
        List<Node> rows = read(
                "SELECT id, name, \"at time\" AT TIME ZONE 'UTC' AS \"at time\", depth, free, day FROM t WHERE id <= 2"
                        + " ORDER BY id;");
        assertEquals(rows.get(0).child("at_x0020_time").string(), "2031-04-02T21:40:00");
        assertEquals(rows.get(0).child("free").string(), "true");
        assertEquals(rows.get(0).child("depth").string(), "9.4");
        assertEquals(rows.get(1).child("name").string(), "", "an empty text is kept");
        assertEquals(rows.get(1).child("depth"), null, "an empty number is no value");
        assertEquals(new SqlSource(() -> WireKettle.connect(DATABASE), "SELECT 1 FROM t WHERE id <= 2;").count(), 2);
    }

    private static List<Node> asked(String query, SqlParameters.QueryParameter... parameters) throws Exception {
        Node kept = new Node("", "kept");
        kept.add(Node.leaf("last", "7"));
        List<Node> out = new ArrayList<>();
        try (Expressions expressions = new Expressions()) {
            RecordSource source = new SqlSource(
                            () -> WireKettle.connect(DATABASE),
                            query,
                            SqlParameters.of(List.of(parameters), expressions))
                    .knowing(Map.of("kept", kept));
            assertEquals(source.count(), 1);
            try (RecordSource.Stream in = source.open()) {
                for (Node n; (n = in.next()) != null; ) {
                    out.add(n);
                }
            }
        }
        return out;
    }

    @Test
    public void parametersOfAQueryHaveTypesAndValues() throws Exception {
        Node row = asked(
                        "SELECT :a AS a, :b + 1 AS b, :c AS c, :d AS d, :e AS e, :f::text AS f, :b AS again, '?:b' AS g",
                        new SqlParameters.QueryParameter("a", null, null, "x'; DROP TABLE t; --"),
                        new SqlParameters.QueryParameter("b", "integer", "$kept/last", null),
                        new SqlParameters.QueryParameter("c", "date", null, "2031-04-02"),
                        new SqlParameters.QueryParameter("d", "dateTime", "xs:dateTime('2031-04-02T21:40:00')", null),
                        new SqlParameters.QueryParameter("e", "boolean", "1 = 1", null),
                        new SqlParameters.QueryParameter("f", "decimal", "$kept/nothing", null))
                .get(0);
        assertEquals(row.child("a").string(), "x'; DROP TABLE t; --");
        assertEquals(row.child("b").string(), "8");
        assertEquals(row.child("c").string(), "2031-04-02");
        assertEquals(row.child("d").string(), "2031-04-02T21:40:00");
        assertEquals(row.child("e").string(), "true");
        assertEquals(row.child("f"), null, "without a value it is NULL");
        assertEquals(row.child("again").string(), "7");
        assertEquals(row.child("g").string(), "?:b");
    }

    @Test
    public void aParameterThatDoesNotFitIsSaidBeforeTheDatabaseIsAsked() {
        String why = expectThrows(
                        IOException.class,
                        () -> asked("SELECT :a", new SqlParameters.QueryParameter("a", "date", null, "soon")))
                .getMessage();
        assertTrue(why.startsWith("the value of :a: “soon” is not a date"), why);
        String unknown = expectThrows(
                        IOException.class,
                        () -> asked("SELECT :a, :b", new SqlParameters.QueryParameter("a", "date", null, "2031-04-02")))
                .getMessage();
        assertEquals(unknown, "Say what :b stands for.");
    }

    @Test
    public void withoutParametersAQueryIsAsItStands() throws Exception {
        assertEquals(
                read("SELECT jsonb_exists('{\"a\":1}', 'a') AS x, '{\"a\":1}'::jsonb ? 'a' AS y")
                        .get(0)
                        .child("y")
                        .string(),
                "true");
    }

    @Test
    public void refusedRowsAreNamedOneByOne() throws Exception {
        try (SqlTarget t = target()) {
            RecordTarget.Prepared p = t.prepare(List.of(
                    row("id", "10", "name", "good"),
                    row("id", "10", "name", "twice"),
                    row("id", "11"),
                    row("id", "x", "name", "no number"),
                    row("id", "12", "name", "deep", "depth", "99999")));
            assertEquals(p.refused().keySet(), java.util.Set.of(1, 2, 3, 4));
            assertTrue(p.refused().get(1).contains("t_pkey"), p.refused().toString());
            assertTrue(
                    p.refused().get(2).contains("null value in column \"name\""),
                    p.refused().toString());
            assertFalse(p.refused().get(3).contains("\n"), "on one line");
            t.abandon();
            assertEquals(t.prepare(List.of(row("id", "10", "name", "good"))).refused(), Map.of());
            t.commit();
        }
        assertEquals(read("SELECT id FROM t WHERE id BETWEEN 10 AND 12").size(), 1);
    }

    @Test
    public void aTransactionThatDiedIsToldFromOneThatCommitted() throws Exception {
        String token;
        try (SqlTarget t = target()) {
            token = t.prepare(List.of(row("id", "20", "name", "lost"))).token();
            assertNotNull(token);
        }
        try (SqlTarget t = target()) {
            assertFalse(t.wasCommitted(token));
        }
        assertEquals(read("SELECT id FROM t WHERE id = 20").size(), 0);
    }

    @Test
    public void aQueryThatDoesNotWorkSaysWhy() {
        assertTrue(expectThrows(IOException.class, () -> read("SELECT nothing FROM nowhere"))
                .getMessage()
                .startsWith("relation \"nowhere\" does not exist"));
        assertTrue(
                expectThrows(IOException.class, () -> read("DELETE FROM t"))
                                .getMessage()
                                .length()
                        > 0,
                "a source only reads");
    }

    @Test
    public void textsOfATableMayHaveALength() throws Exception {
        execute(SqlTarget.createStatement(
                "public.short",
                List.of(
                        Field.column("a", "ref", "string", true, false, 7),
                        Field.column("b", "note", "string", false, false))));
        try (Connection c = WireKettle.connect(DATABASE)) {
            List<Field> columns = SqlTarget.columns(c, "public.short");
            assertEquals(columns.get(0).length(), Integer.valueOf(7));
            assertEquals(columns.get(0).required(), Boolean.TRUE);
            assertEquals(columns.get(1).length(), null);
            assertEquals(columns.get(1).required(), Boolean.FALSE);
        }
    }

    @Test
    public void tablesAreMadeFromFields() throws Exception {
        String sql = SqlTarget.createStatement(
                "public.made \"x\"",
                List.of(
                        Field.of("a", "call ref", "string"),
                        Field.of("b", "when", "dateTime"),
                        Field.of("c", "n", "integer")));
        execute(sql);
        try (Connection c = WireKettle.connect(DATABASE)) {
            assertEquals(
                    SqlTarget.columns(c, "public.made \"x\"").stream()
                            .map(Field::type)
                            .toList(),
                    List.of("string", "dateTime", "integer"));
        }
    }
}
