package org.wirekettle.contract;

import static org.testng.Assert.assertEquals;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.testng.annotations.Test;

/** Policies as they are attached in the wild: in place, by reference, by attribute, nested, optional. */
public class PolicyTest {
    private static List<String> asked(String inDefinitions, String inBinding, String onPort) {
        String wsdl = """
            <definitions name="P" targetNamespace="urn:p" xmlns="http://schemas.xmlsoap.org/wsdl/"
            xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
            xmlns:p="urn:p" xmlns:wsp="http://www.w3.org/ns/ws-policy"
                xmlns:wsam="http://www.w3.org/2007/05/addressing/metadata"
                xmlns:sp="http://docs.oasis-open.org/ws-sx/ws-securitypolicy/200702"
                xmlns:wsu="http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd">
              %s
              <types><xs:schema targetNamespace="urn:p"><xs:element name="Ask" type="xs:string"/></xs:schema></types>
              <message name="A"><part name="b" element="p:Ask"/></message>
              <portType name="T"><operation name="ask"><input message="p:A"/></operation></portType>
              <binding name="B" type="p:T">%s<soap:binding transport="t"/><operation name="ask"><input><soap:body
              use="literal"/></input></operation></binding>
              <service name="S"><port name="Port" binding="p:B" %s><soap:address location="http://tides.example.net/"/>
              </port></service>
            </definitions>\
            """.formatted(inDefinitions, inBinding, onPort);
        return WsdlReader.read("p.wsdl", Documents.of(Map.of("p.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))))
                .ports()
                .get(0)
                .requirements()
                .stream()
                .map(r -> r.text() + (r.isOptional() ? ", optional" : "") + ", line "
                        + r.place().line())
                .toList();
    }

    @Test
    public void inPlaceByReferenceAndByAttribute() {
        String digest = "<wsp:Policy"
                + " wsu:Id=\"Digest\"><sp:SupportingTokens><wsp:Policy><sp:UsernameToken><wsp:Policy><sp:HashPassword/>"
                + "</wsp:Policy></sp:UsernameToken></wsp:Policy></sp:SupportingTokens></wsp:Policy>";
        assertEquals(
                asked("", "<wsp:Policy><wsam:Addressing><wsp:Policy/></wsam:Addressing></wsp:Policy>", ""),
                List.of("WS-Addressing headers, line 11"));
        assertEquals(
                asked(digest, "<wsp:PolicyReference URI=\"#Digest\"/>", ""),
                List.of("a WS-Security UsernameToken, line 7", "a password digest in the UsernameToken, line 7"));
        assertEquals(
                asked(digest, "", "wsp:PolicyURIs=\"#Digest #Nowhere\""),
                List.of("a WS-Security UsernameToken, line 7", "a password digest in the UsernameToken, line 7"));
        assertEquals(asked(digest, "", ""), List.of(), "a policy that nothing refers to asks for nothing");
    }

    @Test
    public void choicesAndWhatIsNotKnown() {
        assertEquals(
                asked(
                        "",
                        "<wsp:Policy><wsp:ExactlyOne><wsp:All><sp:HttpsToken"
                                + " RequireClientCertificate=\"true\"/></wsp:All><wsp:All wsp:Optional=\"true\">"
                                + "<odd:Thing"
                                + " xmlns:odd=\"urn:odd\"/></wsp:All></wsp:ExactlyOne></wsp:Policy>",
                        ""),
                List.of(
                        "HTTPS, line 11",
                        "a client certificate, line 11",
                        "the assertion Thing of urn:odd, which Wire Kettle does not know, optional, line 11"));
    }
}
