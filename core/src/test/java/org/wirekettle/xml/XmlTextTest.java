package org.wirekettle.xml;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;

/** Sloppy and hostile documents. */
public class XmlTextTest {
    private static final String DEFINITIONS = "<definitions xmlns='http://schemas.xmlsoap.org/wsdl/' name='x'/>";
    private final List<Problem> notes = new ArrayList<>();

    private XmlElement read(byte[] bytes) {
        notes.clear();
        return XmlText.read("test.wsdl", bytes, notes).root();
    }

    private XmlElement read(String text) {
        return read(text.getBytes(StandardCharsets.UTF_8));
    }

    private void noted(String code) {
        assertTrue(notes.stream().anyMatch(n -> n.code().equals(code)), code + " in " + notes);
    }

    @Test
    public void aByteOrderMarkIsNoFault() {
        assertEquals(read("\ufeff<?xml version='1.0'?>" + DEFINITIONS).name(), "definitions");
        assertEquals(
                read(("\ufeff<?xml version='1.0' encoding='UTF-16'?>" + DEFINITIONS)
                                .getBytes(StandardCharsets.UTF_16LE))
                        .name(),
                "definitions");
        assertTrue(notes.isEmpty(), notes.toString());
    }

    @Test
    public void whatStandsBeforeTheDeclarationIsSkippedAndLinesStay() {
        XmlElement e = read("\n\nFrom: somebody\n<?xml version='1.0'?>\n" + DEFINITIONS);
        assertEquals(e.place().line(), 5);
        noted("xml.before");
        assertEquals(read("  \n<?xml version='1.0'?>" + DEFINITIONS).place().line(), 2);
        noted("xml.before");
    }

    @Test
    public void htmlAroundItAndScriptsAfterItAreSkipped() {
        assertEquals(
                read("<html><body>Our service<br>\n" + DEFINITIONS.replace("/>", "></definitions>")
                                + "<script>1 < 2</script></body></html>")
                        .name(),
                "definitions");
        noted("xml.before");
        assertEquals(
                read(DEFINITIONS.replace("/>", "></definitions>") + "\n<script src='x'></script>")
                        .name(),
                "definitions");
        noted("xml.after");
    }

    @Test
    public void aWrongDeclaredEncodingIsNoted() {
        XmlElement e = read("<?xml version='1.0' encoding='UTF-8'?><definitions name='Häfen'/>"
                .getBytes(Charset.forName("windows-1252")));
        assertEquals(e.attribute("name"), "Häfen");
        noted("xml.encoding");
        assertEquals(
                read("<?xml version='1.0' encoding='UTF-16'?><definitions name='Häfen'/>")
                        .attribute("name"),
                "Häfen");
        noted("xml.encoding");
    }

    @Test
    public void undeclaredEntitiesAreTakenAsText() {
        XmlElement e = read("<definitions><documentation>a&nbsp;b &unknown; &amp;</documentation></definitions>");
        assertEquals(e.children().get(0).text(), "a\u00a0b &unknown; &");
        noted("xml.entity");
    }

    @Test
    public void undeclaredPrefixesAreGuessedOrGivenANamespaceOfTheirOwn() {
        XmlElement e = read("<wsdl:definitions targetNamespace='urn:t'>\n<wsdl:types/></wsdl:definitions>");
        assertEquals(e.namespace(), "http://schemas.xmlsoap.org/wsdl/");
        noted("xml.prefix");
        XmlElement odd = read("<definitions>\n<odd:types more:so='1'/></definitions>");
        assertEquals(odd.children().get(0).namespace(), "urn:wire-kettle:undeclared:odd");
        assertEquals(notes.get(0).place().line(), 2);
        assertEquals(notes.size(), 2);
        assertTrue(notes.get(0).affectsMessages());
        assertEquals(
                read("<x:definitions name='a'/>").namespace(),
                "http://schemas.xmlsoap.org/wsdl/",
                "the root can hardly be anything else");
    }

    @Test
    public void prefixesInValuesAreGuessedToo() {
        XmlElement e = read(
                "<definitions xmlns='http://schemas.xmlsoap.org/wsdl/' targetNamespace='urn:t'><message name='m'><part"
                        + " name='p' type='xsd:string'/><part name='q' type='tns:Q'/><part name='r'"
                        + " type='odd:R'/></message></definitions>");
        XmlElement part = e.children().get(0).children().get(0);
        assertEquals(
                part.namespaceOf("xsd") + " " + part.namespaceOf("tns") + " " + part.namespaceOf("odd"),
                "http://www.w3.org/2001/XMLSchema urn:t null");
        assertEquals(notes.size(), 2);
    }

    @Test
    public void escapedMarkupIsTakenForWhatItShows() {
        XmlElement e = read("<html><body><pre>&lt;?xml version=\"1.0\"?&gt;\n"
                + "&lt;wsdl:definitions xmlns:wsdl=&quot;http://schemas.xmlsoap.org/wsdl/&quot; name=&quot;a"
                + " &amp;amp; b&quot;&gt;&lt;/wsdl:definitions&gt;</pre></body></html>");
        assertEquals(e.attribute("name"), "a & b");
        noted("xml.escaped");
    }

    @Test
    public void aDoctypeIsNeitherFollowedNorExpanded() {
        XmlElement e = read("<!DOCTYPE definitions [<!ENTITY x SYSTEM 'file:///etc/passwd'> <!ENTITY y 'yes'>]>\n"
                + "<definitions><documentation>&x;&y;</documentation></definitions>");
        assertFalse(e.text().contains("root:"));
        assertEquals(e.place().line(), 2);
        noted("xml.doctype");
        String laughs = "<!DOCTYPE d [<!ENTITY a 'aaaaaaaaaa'><!ENTITY b '&a;&a;&a;&a;&a;&a;&a;&a;'><!ENTITY c"
                + " '&b;&b;&b;&b;&b;&b;&b;&b;'>]><definitions><x>&c;</x></definitions>";
        assertEquals(read(laughs).text(), "&c;");
    }

    @Test
    public void tooDeepTooManyAndTooLongAreRefusedInWords() {
        String deep = "<a>".repeat(100_000) + "</a>".repeat(100_000);
        assertTrue(expectThrows(Refused.class, () -> read(deep)).getMessage().contains("Depth"));
        StringBuilder attributes = new StringBuilder("<a ");
        for (int i = 0; i < 5_000; i++) {
            attributes.append("a").append(i).append("='' ");
        }
        assertTrue(expectThrows(Refused.class, () -> read(attributes + "/>"))
                .getMessage()
                .contains("ttribute"));
        String longValue = "<a b='" + "x".repeat(SafeXml.MAX_ATTRIBUTE_CHARS + 10) + "'/>";
        expectThrows(Refused.class, () -> read(longValue));
        assertEquals(read("<a>" + "x".repeat(10 * 1024 * 1024) + "</a>").text().length(), 10 * 1024 * 1024);
    }

    @Test
    public void brokenXmlSaysLineAndReason() {
        Refused r = expectThrows(Refused.class, () -> read("<definitions>\n <a>\n</definitions>"));
        assertEquals(r.place().line(), 3);
        assertEquals(r.place().document(), "test.wsdl");
        assertTrue(r.getMessage().startsWith("This is not well-formed XML: "), r.getMessage());
        assertFalse(r.getMessage().contains("[row"), r.getMessage());
        expectThrows(Refused.class, () -> read(""));
        expectThrows(Refused.class, () -> read("words, no markup"));
    }
}
