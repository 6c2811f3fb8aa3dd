package org.wirekettle.expression;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.testng.annotations.AfterClass;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** Stylesheets and queries: what they give, where they are wrong, and what they may not reach. */
public class TransformTest {
    private final Expressions expressions = new Expressions(new EvaluationLimits(1_500, 96), 1);

    @AfterClass(alwaysRun = true)
    public void close() {
        expressions.close();
    }

    private static final String RECORD =
            "<record><ref>R7</ref><line><no>1</no><t>4,5</t></line><line><no>2</no><t>6</t></line></record>";

    private static Scope scope() throws Exception {
        return Scope.of(NodeXml.read(RECORD)).with("reply", NodeXml.read("<b:a xmlns:b='urn:b'><b:n>9</b:n></b:a>"));
    }

    private String value(Language language, String text) throws Exception {
        List<Node> found = expressions.compile(language, text).nodes(scope());
        return found.stream().map(NodeXml::write).collect(Collectors.joining());
    }

    private static String sheet(String body) {
        return "<xsl:stylesheet version='3.0' xmlns:xsl='http://www.w3.org/1999/XSL/Transform'\n"
                + " exclude-result-prefixes='#all'>\n" + body + "</xsl:stylesheet>";
    }

    @Test
    public void aStylesheetMakesElementsOfTheRecord() throws Exception {
        String body =
                "<xsl:param name='reply'/><xsl:template match='record'><order n='{ref}'><xsl:for-each select='line'>"
                        + "<item><xsl:value-of select='translate(t, \",\", \".\")'/></item></xsl:for-each>"
                        + "<of><xsl:value-of select='$reply/n'/></of></order></xsl:template>";
        assertEquals(
                value(Language.XSLT, sheet(body)), "<order n=\"R7\"><item>4.5</item><item>6</item><of>9</of></order>");
    }

    @Test
    public void aQueryGivesASequence() throws Exception {
        assertEquals(
                value(Language.XQUERY, "for $l in line order by number($l/no) descending return <i>{$l/no/text()}</i>"),
                "<i>2</i><i>1</i>");
        assertEquals(value(Language.XQUERY, "<n>{$reply/n + 1}</n>"), "<n>10</n>", "a name of the flow needs no words");
        assertEquals(
                value(Language.XQUERY, "declare variable $reply external; <n>{wk:trim(' a ')}{$reply/n/text()}</n>"),
                "<n>a9</n>");
    }

    @DataProvider
    public Object[][] mistakes() {
        return new Object[][] {
            {Language.XSLT, sheet("<xsl:template match='record'>\n  <xsl:value-of select='1 +'/></xsl:template>"), 4},
            {Language.XSLT, "<xsl:stylesheet", 1},
            {Language.XQUERY, "let $a := 1\nreturn $a +", 2},
            {Language.XQUERY, "$reply/n +", 1},
        };
    }

    @Test(dataProvider = "mistakes")
    public void aMistakeIsSaidWithItsLine(Language language, String text, int line) {
        ExpressionFault f = expectThrows(ExpressionFault.class, () -> expressions.compile(language, text));
        assertTrue(f.getMessage().startsWith("line " + line), f.getMessage());
        assertTrue(f.offset() >= 0 && f.offset() <= text.length(), f.offset() + " in " + f.getMessage());
    }

    @DataProvider
    public Object[][] forbidden() {
        String file = "file:///etc/hostname";
        return new Object[][] {
            {Language.XSLT, sheet("<xsl:import href='" + file + "'/>")},
            {Language.XSLT, sheet(match("<xsl:copy-of select=\"doc('" + file + "')\"/>"))},
            {Language.XSLT, sheet(match("<xsl:value-of select=\"unparsed-text('" + file + "')\"/>"))},
            {
                Language.XSLT,
                sheet(match("<xsl:result-document href='file:///tmp/wk-written.xml'><a/></xsl:result-document>"))
            },
            {Language.XSLT, sheet(match("<xsl:source-document href='" + file + "'><a/></xsl:source-document>"))},
            {Language.XSLT, "<!DOCTYPE a [<!ENTITY x SYSTEM '" + file + "'>]>" + sheet(match("<a>&x;</a>"))},
            {Language.XQUERY, "doc('" + file + "')"},
            {Language.XQUERY, "unparsed-text-lines('" + file + "')"},
            {Language.XQUERY, "collection('file:///etc')"},
            {Language.XQUERY, "import module namespace x='urn:x' at '" + file + "'; 1"},
            {Language.XQUERY, "parse-xml('<!DOCTYPE a [<!ENTITY x SYSTEM \"" + file + "\">]><a>&amp;x;</a>')"},
            {Language.XQUERY, "transform(map{'stylesheet-location': '" + file + "', 'source-node': .})"},
        };
    }

    private static String match(String body) {
        return "<xsl:template match='record'>" + body + "</xsl:template>";
    }

    @Test(dataProvider = "forbidden")
    public void neitherFilesNorTheNetworkAreReached(Language language, String text) {
        Throwable t = expectThrows(
                Throwable.class, () -> expressions.compile(language, text).nodes(scope()));
        assertTrue(t instanceof ExpressionFault || t instanceof EvaluationFailed, t.toString());
        assertTrue(!new java.io.File("/tmp/wk-written.xml").exists());
    }

    @DataProvider
    public Object[][] drawing() {
        String values = "<v at='{current-dateTime()}' id='{wk:uuid()}'/>";
        return new Object[][] {
            {Language.XQUERY, values},
            {
                Language.XSLT,
                sheet(match(values)).replace("version='3.0'", "version='3.0' xmlns:wk='urn:wire-kettle:functions'")
            }
        };
    }

    /** A record that is worked on again after a kill sends what it sent before. */
    @Test(dataProvider = "drawing")
    public void timeAndRandomValuesAreTheRecords(Language language, String text) throws Exception {
        Expression e = expressions.compile(language, text);
        Instant now = Instant.parse("2031-04-02T21:40:00Z");
        List<String> found = new ArrayList<>();
        for (long seed : new long[] {7, 7, 8}) {
            found.add(NodeXml.write(
                    e.nodes(Scope.of(NodeXml.read(RECORD), now, seed)).get(0)));
        }
        assertTrue(found.get(0).contains("2031-04-02T21:40:00Z"), found.get(0));
        assertEquals(found.get(0), found.get(1));
        assertTrue(!found.get(0).equals(found.get(2)), "another record draws others");
    }

    @Test
    public void nothingOfTheServersSurroundingsIsSeen() throws Exception {
        assertEquals(value(Language.XQUERY, "string-join(available-environment-variables())"), "<item></item>");
        assertEquals(
                value(Language.XSLT, sheet(match("<p><xsl:value-of select=\"system-property('user.dir')\"/></p>"))),
                "<p></p>");
    }

    @Test
    public void oneThatNeverEndsIsEnded() throws Exception {
        Expression endless = expressions.compile(
                Language.XSLT,
                sheet("<xsl:template match='record'><xsl:call-template name='t'/></xsl:template>"
                        + "<xsl:template name='t'><xsl:for-each select='1 to 1000000000'>"
                        + "<xsl:if test='. = -1'><a/></xsl:if></xsl:for-each></xsl:template>"));
        EvaluationFailed f = expectThrows(EvaluationFailed.class, () -> endless.nodes(scope()));
        assertTrue(f.getMessage().contains("takes longer than"), f.getMessage());
        assertEquals(value(Language.XQUERY, "<a/>"), "<a></a>", "the next one is evaluated");
    }
}
