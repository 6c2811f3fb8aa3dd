package org.wirekettle.soap;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.nio.charset.StandardCharsets;
import org.testng.annotations.Test;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.record.Node;

/** Envelopes written and read; faults of both versions say the same. */
public class EnvelopesTest {
    private static Envelopes.Answer read(String xml) throws Exception {
        return Envelopes.read(xml.getBytes(StandardCharsets.UTF_8));
    }

    @Test
    public void whatIsWrittenIsReadBack() throws Exception {
        for (SoapVersion v : SoapVersion.values()) {
            byte[] bytes = Envelopes.write(
                    v, Use.LITERAL, "<h:Session xmlns:h='urn:h'>1</h:Session>", "<a xmlns='urn:a'><b>Ä</b></a>");
            Envelopes.Answer a = Envelopes.read(bytes);
            assertEquals(a.headers().get(0).name(), "Session");
            assertEquals(a.payload().child("b").string(), "Ä");
            assertNull(a.fault());
        }
    }

    @Test
    public void faultsOfBothVersions() throws Exception {
        Fault f11 = read("<e:Envelope"
                        + " xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body><e:Fault><faultcode>"
                        + "e:Client</faultcode>"
                        + "<faultstring>no"
                        + " port</faultstring><faultactor>urn:desk</faultactor><detail><x:UnknownPort"
                        + " xmlns:x='urn:x'><code>Q</code></x:UnknownPort></detail></e:Fault></e:Body></e:Envelope>")
                .fault();
        assertEquals(f11.code(), "Client");
        assertEquals(f11.reason(), "no port");
        assertEquals(f11.actor(), "urn:desk");
        assertEquals(f11.name(), "UnknownPort");
        Fault f12 = read("<e:Envelope"
                        + " xmlns:e='http://www.w3.org/2003/05/soap-envelope'><e:Body><e:Fault><e:Code><e:Value>"
                        + "e:Sender</e:Value><e:Subcode><e:Value>x:Odd</e:Value></e:Subcode></e:Code><e:Reason><e:Text"
                        + " xml:lang='en'>no port</e:Text></e:Reason></e:Fault></e:Body></e:Envelope>")
                .fault();
        assertEquals(f12.code(), "Odd");
        assertEquals(f12.reason(), "no port");
        assertEquals(f12.name(), "Odd", "without a detail the code is its name");
    }

    @Test
    public void whatIsNoEnvelopeSaysWhatItIs() {
        assertEquals(
                expectThrows(Envelopes.Unreadable.class, () -> read("<html><body/></html>"))
                        .getMessage(),
                "the answer is no SOAP envelope; its root is <html>");
        assertTrue(expectThrows(Envelopes.Unreadable.class, () -> read("Service unavailable"))
                .getMessage()
                .startsWith("the answer is not XML"));
        assertEquals(expectThrows(Envelopes.Unreadable.class, () -> read("")).getMessage(), "the answer is empty");
    }

    @Test
    public void hostileAnswersEndInWords() {
        expectThrows(
                Envelopes.Unreadable.class,
                () -> read("<!DOCTYPE e [<!ENTITY x SYSTEM 'file:///etc/passwd'>]><e:Envelope"
                        + " xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body><a>&x;</a></e:Body>"
                        + "</e:Envelope>"));
        expectThrows(
                Envelopes.Unreadable.class,
                () -> read("<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body>"
                        + "<a>".repeat(100_000)));
    }

    @Test
    public void theActionTravelsWhereTheVersionSays() {
        assertEquals(SoapVersion.SOAP11.contentType("urn:a", StandardCharsets.UTF_8), "text/xml; charset=utf-8");
        assertEquals(
                SoapVersion.SOAP12.contentType("urn:a", StandardCharsets.UTF_8),
                "application/soap+xml; charset=utf-8; action=\"urn:a\"");
        assertEquals(SoapVersion.SOAP12.contentType("", StandardCharsets.UTF_8), "application/soap+xml; charset=utf-8");
    }

    @Test
    public void multiReferenceValuesArePutInTheirPlaces() throws Exception {
        Envelopes.Answer a = Envelopes.read("""
            <e:Envelope xmlns:e="http://schemas.xmlsoap.org/soap/envelope/"><e:Body>
              <r:List xmlns:r="urn:r"><item href="#1"/><item href="#1"/><self href="#2"/></r:List>
              <multiRef id="1" e:encodingStyle="http://schemas.xmlsoap.org/soap/encoding/"><name>Gull</name><size
              href="#3"/></multiRef>
              <multiRef id="2"><self href="#2"/></multiRef><multiRef id="3">12</multiRef>
            </e:Body></e:Envelope>\
            """.getBytes(StandardCharsets.UTF_8));
        assertEquals(a.body().size(), 1);
        Node list = a.payload();
        assertEquals(
                list.children().get(0).child("name").string()
                        + list.children().get(1).child("size").string(),
                "Gull12");
        assertTrue(list.children().get(0).attributes().isEmpty(), "neither the reference nor the identity is data");
        assertEquals(
                list.children().get(2).child("self").attribute("href").string(),
                "#2",
                "a value that contains itself stays a reference");
    }

    @Test
    public void referencesInAnAnswerThatIsNotEncodedAreData() throws Exception {
        Envelopes.Answer a = Envelopes.read(
                ("<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body><page><a href='#top'/><p "
                                + "id='top'>text</p></page></e:Body></e:Envelope>")
                        .getBytes(StandardCharsets.UTF_8));
        assertEquals(a.payload().child("a").string(), "");
    }

    @Test
    public void aFewReferencesCannotInflateAnAnswerWithoutEnd() throws Exception {
        StringBuilder body = new StringBuilder("<r><a href='#0'/></r>");
        for (int i = 0; i < 40; i++) {
            body.append("<m id='" + i + "'><a href='#" + (i + 1) + "'/><b href='#" + (i + 1) + "'/></m>");
        }
        Envelopes.Answer a = Envelopes.read(("<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body>"
                        + body + "<m id='40'>x</m></e:Body></e:Envelope>")
                .getBytes(StandardCharsets.UTF_8));
        assertEquals(a.payload().name(), "r");
    }

    @Test
    public void aBrokenReferenceInAnAnswerIsUnreadableAndNotACrash() {
        for (String broken : new String[] {"&nbsp next", "&#0;", "a & b"}) {
            byte[] answer = ("<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body><a>" + broken
                            + "</a></e:Body></e:Envelope>")
                    .getBytes(StandardCharsets.UTF_8);
            assertTrue(org.testng.Assert.expectThrows(Envelopes.Unreadable.class, () -> Envelopes.read(answer))
                    .getMessage()
                    .startsWith("the answer is not XML"));
        }
    }

    @Test
    public void theEncodingStyleStandsWhereEachVersionAllowsIt() {
        String eleven =
                new String(Envelopes.write(SoapVersion.SOAP11, Use.ENCODED, "", "<a/>"), StandardCharsets.UTF_8);
        assertTrue(
                eleven.contains("<soap:Body soap:encodingStyle=\"http://schemas.xmlsoap.org/soap/encoding/\"><a/>"),
                eleven);
        String twelve = new String(
                Envelopes.write(SoapVersion.SOAP12, Use.ENCODED, "", "<a x=\"1\"/>"), StandardCharsets.UTF_8);
        assertTrue(
                twelve.contains(
                        "<soap:Body><a soap:encodingStyle=\"http://schemas.xmlsoap.org/soap/encoding/\" x=\"1\"/>"),
                twelve);
        assertTrue(new String(Envelopes.write(SoapVersion.SOAP11, Use.LITERAL, "", "<a/>"), StandardCharsets.UTF_8)
                .contains("<soap:Body><a/>"));
    }

    @Test
    public void addressingHeadersAreWhatTheBindingAsksFor() {
        String headers = Addressing.headers(
                "urn:tide & time",
                "http://tides.example.net/?a=1&b=2",
                "urn:uuid:1",
                SoapVersion.SOAP11.headerAttributes(true, "urn:gate & door"));
        org.wirekettle.xml.XmlElement h = org.wirekettle.xml.XmlElement.parse("h", "<h>" + headers + "</h>");
        assertEquals(
                h.children().stream().map(c -> c.name() + " " + c.text()).toList(),
                java.util.List.of(
                        "Action urn:tide & time",
                        "To http://tides.example.net/?a=1&b=2",
                        "MessageID urn:uuid:1",
                        "ReplyTo http://www.w3.org/2005/08/addressing/anonymous"));
        assertTrue(h.children().stream().allMatch(c -> c.namespace().equals("http://www.w3.org/2005/08/addressing")));
        assertTrue(
                h.children().stream()
                        .allMatch(c ->
                                "1".equals(c.attribute("{http://schemas.xmlsoap.org/soap/envelope/}mustUnderstand"))
                                        && "urn:gate & door"
                                                .equals(c.attribute(
                                                        "{http://schemas.xmlsoap.org/soap/envelope/}actor"))),
                headers);
    }
}
