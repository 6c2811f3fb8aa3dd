package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.expectThrows;

import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** One statement that reads is told from anything else, by PostgreSQL's lexical rules. */
public class SqlTextTest {
    @DataProvider
    public static Object[][] reading() {
        return new Object[][] {
            {"SELECT 1"},
            {"  select 1 ;  \n"},
            {"WITH a AS (SELECT 1) SELECT * FROM a"},
            {"VALUES (1), (2)"},
            {"TABLE harbour.vessel"},
            {"((SELECT 1))"},
            {"SELECT ';' FROM t"},
            {"SELECT 'it''s; so' FROM t"},
            {"SELECT E'a\\'; DELETE FROM t; --' FROM t"},
            {"SELECT e'\\\\' ; -- the end"},
            {"SELECT 'a\\' ; -- a backslash is itself in a plain constant"},
            {"SELECT $$ ; $$, $x$ $$ ; $y$ $x$"},
            {"SELECT \"a;b\"\"c;d\" FROM t"},
            {"SELECT 1 /* ; /* nested ; */ still ; */ + 1"},
            {"SELECT 1 -- ; DELETE FROM t\n + 1"},
            {"SELECT U&'d\\0061;t', U&\"d\\0061;t\""},
            {"SELECT E'a'\n  'b\\'; DELETE FROM t; --'"},
            {"SELECT a$b$c FROM t"},
            {"SELECT $1;"},
            {"SELECT ä$ö$ FROM t"},
            {"SELECT B'1;', X'1;', N';'"},
            {"-- first\n/* then */ SELECT 1"},
        };
    }

    @Test(dataProvider = "reading")
    public void isRead(String sql) {
        assertEquals(
                SqlText.reading(sql).contains("--"),
                sql.contains("'; DELETE") && !sql.contains("\n") || sql.contains("'b"),
                "comments are taken out");
    }

    @DataProvider
    public static Object[][] refused() {
        return new Object[][] {
            {"", "the query is empty"},
            {" ; ", "the query is empty"},
            {"-- only a comment", "the query is empty"},
            {"DELETE FROM t", "a query reads: it begins with SELECT, WITH, VALUES or TABLE, not with “DELETE”"},
            {"COPY t TO PROGRAM 'sh'", "not with “COPY”"},
            {"SET TRANSACTION READ WRITE", "not with “SET”"},
            {"EXPLAIN ANALYZE DELETE FROM t", "not with “EXPLAIN”"},
            {"*", "not with “*”"},
            {"selectx 1", "not with “selectx”"},
            {"COMMIT; DELETE FROM t; SELECT 1", "another one in line 1"},
            {"SELECT 1;\nROLLBACK", "another one in line 2"},
            {"SELECT 'a\\'; DELETE FROM t; --'", "another one in line 1"},
            {"SELECT E'\\\\'; DELETE FROM t", "another one in line 1"},
            {"SELECT 'a' 'b'; DROP TABLE t", "another one in line 1"},
            {"SELECT E'a'\n'b'; DROP TABLE t", "another one in line 2"},
            {"SELECT E'a' 'b\\'; DROP TABLE t; --'", "another one in line 1"},
            {"SELECT /* /* */ ; */ 1; DROP TABLE t", "another one in line 1"},
            {"SELECT $a$ $b$ ; $a$ ; DROP TABLE t --$b$", "another one in line 1"},
            {"SELECT a$x$; DROP TABLE t; --$x$", "another one in line 1"},
            {"SELECT fooe'\\'; DROP TABLE t; --'", "another one in line 1"},
            {"SELECT \"a\"\"; \" ; DROP TABLE t", "another one in line 1"},
            {"SELECT 'open", "has no end"},
            {"SELECT \"open", "has no end"},
            {"SELECT $x$ open $y$", "has no end"},
            {"SELECT /* open /* */", "has no end"},
            {"SELECT E'\\", "has no end"},
            {"SELECT 1\0", "NUL"},
        };
    }

    @Test(dataProvider = "refused")
    public void isRefused(String sql, String why) {
        String said = expectThrows(IllegalArgumentException.class, () -> SqlText.reading(sql))
                .getMessage();
        assertEquals(said.contains(why), true, said);
    }

    @Test
    public void charactersKeepTheirPlaces() {
        assertEquals(SqlText.reading("SELECT /* x */ 1 -- y\n, 2;"), "SELECT         1     \n, 2");
    }
}
