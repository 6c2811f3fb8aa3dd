package org.wirekettle.contract;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.util.List;
import java.util.Map;
import org.testng.annotations.Test;
import org.wirekettle.contract.Uddi.Version;
import org.wirekettle.xml.XmlElement;

/** UDDI inquiries: what is asked in either version, and what is read of answers as registries write them. */
public class UddiTest {
    private static XmlElement body(String content) {
        return XmlElement.parse("registry", "<Body>" + content + "</Body>");
    }

    @Test
    public void questionsAreInTheWordsOfTheirVersion() {
        XmlElement three = XmlElement.parse("q", Uddi.findService(Version.V3, "tide & <desk>"));
        assertEquals(three.namespace() + " " + three.attribute("generic"), "urn:uddi-org:api_v3 null");
        assertEquals(three.child("urn:uddi-org:api_v3", "name").get().text(), "%tide & <desk>%");
        assertTrue(three.child("urn:uddi-org:api_v3", "findQualifiers").isPresent());
        XmlElement two = XmlElement.parse("q", Uddi.findBusiness(Version.V2, "x"));
        assertEquals(two.namespace() + " " + two.attribute("generic"), "urn:uddi-org:api_v2 2.0");
        assertFalse(two.child("urn:uddi-org:api_v2", "findQualifiers").isPresent());
        assertEquals(
                XmlElement.parse("q", Uddi.serviceDetail(Version.V3, List.of("a", "b")))
                        .children()
                        .size(),
                2);
    }

    @Test
    public void businessesBringTheirServices() {
        List<Uddi.Business> found =
                Uddi.businesses(body("<businessList xmlns='urn:uddi-org:api_v3'><businessInfos><businessInfo"
                        + " businessKey='b1'><name>Harbour</name><description>Dues</description><serviceInfos>"
                        + "<serviceInfo"
                        + " serviceKey='s1' businessKey='b1'><name>Tides</name></serviceInfo><serviceInfo "
                        + "serviceKey='s2'"
                        + " businessKey='b1'/></serviceInfos></businessInfo></businessInfos></businessList>"));
        assertEquals(
                found,
                List.of(new Uddi.Business(
                        "b1",
                        "Harbour",
                        "Dues",
                        List.of(new Uddi.ServiceInfo("s1", "b1", "Tides"), new Uddi.ServiceInfo("s2", "b1", null)))));
    }

    @Test
    public void theWsdlIsFoundWhereverTheRegistryKeepsIt() {
        String detail = "<serviceDetail><businessService"
                + " serviceKey='s'><name>Tides</name><bindingTemplates>%s</bindingTemplates></businessService>"
                + "</serviceDetail>";
        record Case(String template, String address, String wsdl) {}
        for (Case c : new Case[] {
            new Case(
                    "<bindingTemplate><accessPoint"
                            + " useType='endPoint'>http://t.example.net/desk</accessPoint><tModelInstanceDetails>"
                            + "<tModelInstanceInfo"
                            + " tModelKey='m'/></tModelInstanceDetails></bindingTemplate>",
                    "http://t.example.net/desk",
                    null),
            new Case(
                    "<bindingTemplate><accessPoint"
                            + " useType='wsdlDeployment'>http://t.example.net/desk</accessPoint></bindingTemplate>",
                    null,
                    "http://t.example.net/desk"),
            new Case(
                    "<bindingTemplate><accessPoint"
                            + " URLType='http'>http://t.example.net/desk?WSDL</accessPoint></bindingTemplate>",
                    null,
                    "http://t.example.net/desk?WSDL"),
            new Case(
                    "<bindingTemplate><accessPoint>http://t.example.net/desk</accessPoint><tModelInstanceDetails>"
                            + "<tModelInstanceInfo"
                            + " tModelKey='m'><instanceDetails><overviewDoc><overviewURL>"
                            + "http://t.example.net/d.wsdl</overviewURL></overviewDoc></instanceDetails>"
                            + "</tModelInstanceInfo></tModelInstanceDetails></bindingTemplate>",
                    "http://t.example.net/desk",
                    "http://t.example.net/d.wsdl"),
            new Case("<bindingTemplate/>", null, null)
        }) {
            Uddi.Binding b = Uddi.details(body(detail.formatted(c.template)))
                    .get(0)
                    .bindings()
                    .get(0);
            assertEquals(b.address() + " " + b.wsdl(), c.address + " " + c.wsdl, c.template);
        }
        assertEquals(
                Uddi.descriptions(body("<tModelDetail><tModel tModelKey='m'><overviewDoc><overviewURL>text"
                        + " only</overviewURL></overviewDoc></tModel><tModel"
                        + " tModelKey='n'><overviewDoc><overviewURL>"
                        + "http://t.example.net/d.wsdl#xpointer(//binding)</overviewURL></overviewDoc>"
                        + "</tModel></tModelDetail>")),
                Map.of("n", "http://t.example.net/d.wsdl"));
    }
}
