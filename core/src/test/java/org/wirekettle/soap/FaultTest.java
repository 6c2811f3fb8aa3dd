package org.wirekettle.soap;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.Operation.DeclaredFault;
import org.wirekettle.contract.WsdlReader;

/** Faults as services really write them: what they are called, and what is said of them in words. */
public class FaultTest {
    private static final String WSDL = """
            <definitions name="Tides" targetNamespace="urn:t" xmlns="http://schemas.xmlsoap.org/wsdl/"
             xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
             xmlns:t="urn:t">
              <types><xs:schema targetNamespace="urn:t" elementFormDefault="qualified">
                <xs:element name="Ask" type="xs:string"/>
                <xs:element name="Closed"><xs:complexType><xs:sequence>
                  <xs:element name="until" type="xs:date"/></xs:sequence></xs:complexType></xs:element>
                <xs:element name="Busy"><xs:complexType/></xs:element>
              </xs:schema></types>
              <message name="Ask"><part name="b" element="t:Ask"/></message>
              <message name="Closed"><part name="b" element="t:Closed"/></message>
              <message name="Busy"><part name="b" element="t:Busy"/></message>
              <portType name="P"><operation name="ask"><input message="t:Ask"/><output message="t:Ask"/>
                <fault name="Closed" message="t:Closed"/><fault name="Busy" message="t:Busy"/></operation></portType>
              <binding name="B" type="t:P"><soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
                <operation name="ask"><soap:operation soapAction="a"/><input><soap:body use="literal"/></input>
                  <output><soap:body use="literal"/></output>
                  <fault name="Closed"><soap:fault name="Closed" use="literal"/></fault>
                  <fault name="Busy"><soap:fault name="Busy" use="literal"/></fault></operation></binding>
              <service name="S"><port name="Port" binding="t:B"><soap:address location="http://tides.example.net/1"/>
              </port></service>
            </definitions>
            """;
    private static final Contract CONTRACT =
            WsdlReader.read("t.wsdl", Documents.of(Map.of("t.wsdl", WSDL.getBytes(StandardCharsets.UTF_8))));
    private static final List<DeclaredFault> DECLARED =
            CONTRACT.ports().get(0).operation("ask").orElseThrow().faults();

    private static Fault soap11(String content) throws Exception {
        return read("http://schemas.xmlsoap.org/soap/envelope/", content);
    }

    private static Fault soap12(String content) throws Exception {
        return read("http://www.w3.org/2003/05/soap-envelope", content);
    }

    private static Fault read(String ns, String content) throws Exception {
        String xml = "<e:Envelope xmlns:e='" + ns + "' xmlns:t='urn:t'><e:Body><e:Fault>" + content
                + "</e:Fault></e:Body></e:Envelope>";
        return Envelopes.read(xml.getBytes(StandardCharsets.UTF_8))
                .knowing(DECLARED)
                .fault();
    }

    private static String code(String detail) {
        return "<faultcode>e:Server</faultcode><faultstring> no </faultstring><detail>" + detail + "</detail>";
    }

    @DataProvider
    Object[][] details() {
        return new Object[][] {
            {"<t:Closed><t:until>2031-05-01</t:until></t:Closed>", "Closed", true, "no (until “2031-05-01”)"},
            {
                "<t:Closed t:day='Monday'><t:until>2031-05-01</t:until></t:Closed>",
                "Closed",
                true,
                "no (day “Monday”, until “2031-05-01”)"
            },
            {"<t:Busy/>", "Busy", true, "no"},
            // A service that puts an empty one beside any fault does not mean it.
            {"<t:Closed/>", "Server", false, "no"},
            {"<t:Closed xmlns:i='http://www.w3.org/2001/XMLSchema-instance' i:nil='true'/>", "Server", false, "no"},
            // The same name in another namespace is another element.
            {"<Closed xmlns='urn:other'><until>x</until></Closed>", "Closed", false, "no"},
            {"<trace>line 7</trace>", "trace", false, "no"},
            {"", "Server", false, "no"},
        };
    }

    @Test(dataProvider = "details")
    public void theDetailNamesIt(String detail, String name, boolean isDeclared, String words) throws Exception {
        Fault f = soap11(code(detail));
        assertEquals(f.name(), name);
        assertEquals(f.isDeclared(), isDeclared);
        assertEquals(f.words(), words);
        assertEquals(f.code(), "Server");
    }

    @Test
    public void aFaultWithoutItsPartsStillSaysSomething() throws Exception {
        Fault bare = soap11("<faultcode>Client.Port</faultcode>");
        assertEquals(bare.code(), "Client.Port");
        assertNull(bare.reason());
        assertEquals(bare.words(), "no reason given");
        Fault empty = soap12("");
        assertEquals(empty.code(), "");
        assertEquals(empty.words(), "no reason given");
        Fault noReason = soap11("<faultcode>x</faultcode><faultstring/><detail><t:Closed><t:until>2031-05-01</t:until>"
                + "</t:Closed></detail>");
        assertEquals(noReason.words(), "until “2031-05-01”");
    }

    @Test
    public void ofSeveralCodesTheInnermostIsMeant() throws Exception {
        Fault f = soap12("<e:Code><e:Value>e:Receiver</e:Value><e:Subcode><e:Value>t:TooLate</e:Value></e:Subcode>"
                + "</e:Code><e:Reason><e:Text xml:lang='en'>too late</e:Text></e:Reason><e:Role>urn:desk</e:Role>");
        assertEquals(f.code() + ", " + f.reason() + ", " + f.actor(), "TooLate, too late, urn:desk");
        Fault bare = soap12("<e:Code><e:Value>e:Receiver</e:Value><e:Subcode/></e:Code>");
        assertEquals(bare.code(), "Receiver", "a subcode without a value says nothing");
    }

    @Test
    public void onlySomeFieldsAreTold() throws Exception {
        StringBuilder many = new StringBuilder("<t:Closed>");
        for (int i = 0; i < 40; i++) {
            many.append("<t:f").append(i).append(">v</t:f").append(i).append('>');
        }
        String words = soap11(code(many + "</t:Closed>")).words();
        assertTrue(words.contains("f5 “v”") && !words.contains("f6"), words);
        String longOne = soap11(code("<t:Closed><t:until>" + "x".repeat(5_000) + "</t:until></t:Closed>"))
                .words();
        assertTrue(longOne.length() < 200, "a long value is shortened: " + longOne.length());
        assertFalse(soap11(code("<t:Closed><t:until>  </t:until></t:Closed>"))
                .words()
                .contains("until"));
    }

    @Test
    public void whatOnlyLooksLikeAFaultIsAnAnswer() throws Exception {
        String own =
                "<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body><Fault xmlns='urn:cracks'>"
                        + "<depth>3</depth></Fault></e:Body></e:Envelope>";
        Envelopes.Answer a = Envelopes.read(own.getBytes(StandardCharsets.UTF_8));
        assertNull(a.fault());
        assertEquals(a.payload().child("depth").string(), "3");
    }
}
