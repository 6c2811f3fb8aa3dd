package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import org.openqa.selenium.Keys;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** Of long lists only what is in sight is drawn: a page that draws all of it is slow at every key. */
public class LargeShapesTest extends ServerTest {
    private static final int FIELDS = 2_000;
    private static final int MOST_DRAWN = 120;
    private Browser b;
    private long flow;

    @Override
    protected void prepare() throws Exception {
        StringBuilder fields = new StringBuilder();
        for (int i = 0; i < FIELDS; i++) {
            fields.append("<xs:element name=\"field").append(i).append("\" type=\"xs:string\"/>\n");
        }
        String wsdl = """
            <definitions name="Large" targetNamespace="urn:t" xmlns="http://schemas.xmlsoap.org/wsdl/"
             xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
             xmlns:t="urn:t">
              <types><xs:schema targetNamespace="urn:t" elementFormDefault="qualified">
                <xs:element name="Ask"><xs:complexType><xs:sequence>%s</xs:sequence></xs:complexType></xs:element>
              </xs:schema></types>
              <message name="Ask"><part name="b" element="t:Ask"/></message>
              <portType name="P"><operation name="ask"><input message="t:Ask"/><output message="t:Ask"/></operation>
              </portType>
              <binding name="B" type="t:P"><soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
                <operation name="ask"><soap:operation soapAction="a"/><input><soap:body use="literal"/></input>
                  <output><soap:body use="literal"/></output></operation></binding>
              <service name="S"><port name="Port" binding="t:B"><soap:address location="http://127.0.0.1:9/"/>
              </port></service>
            </definitions>
            """.formatted(fields);
        wk.post(
                        "/api/contracts",
                        WireKettle.JSON
                                .createObjectNode()
                                .put("name", "Large")
                                .put("text", wsdl)
                                .toString())
                .expect(200);
        TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(3));
        flow = wk.post(
                        "/api/flows",
                        "{\"name\":\"Large\",\"definition\":{\"steps\":[{\"kind\":\"read\",\"source\":\"port_calls\"},"
                                + "{\"kind\":\"call\",\"contract\":\"Large\",\"operation\":\"ask\",\"fill\":[]}]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    @BeforeMethod
    public void open() throws Exception {
        b = new Browser();
        b.logIn(wk);
    }

    @AfterMethod(alwaysRun = true)
    public void close(ITestResult result) throws Exception {
        b.close(result);
    }

    private void drawsOnlyWhatIsInSight(String page) {
        int drawn = b.all(".sparse-row").size();
        assertTrue(drawn > 3 && drawn < MOST_DRAWN, page + " draws " + drawn + " rows");
        assertEquals(
                b.run("return document.scrollingElement.scrollHeight - innerHeight"),
                0L,
                page + " is as high as the window");
    }

    @Test
    public void theFillDrawsWhatIsInSightAndScrollsToTheRest() {
        b.go(wk.url() + "/flows/" + flow + "?step=s2");
        b.says("2,000 required rows unfilled");
        drawsOnlyWhatIsInSight("the fill");
        b.click("[data-path='Ask/field0'] .cell button");
        b.keys("\"x", Keys.ENTER);
        b.says("1,999 required rows unfilled");
        b.run("return document.querySelector('[aria-label=fill]').scrollTop = 1e9");
        b.find("[data-path='Ask/field1999']");
        drawsOnlyWhatIsInSight("the fill's end");
    }

    @Test
    public void theBenchTheShapesAndTheRawTextDoTheSame() {
        b.go(wk.url() + "/contracts/Large/Port/ask");
        b.says("field0");
        drawsOnlyWhatIsInSight("the Bench");
        b.go(wk.url() + "/contracts/Large/Port/ask?show=shapes");
        b.find("[aria-label=fields] .sparse-row");
        drawsOnlyWhatIsInSight("the message's shape");
        b.go(wk.url() + "/contracts/Large/Port/ask?show=raw");
        b.find("[aria-label=document] .sparse-row");
        drawsOnlyWhatIsInSight("the raw text");
    }
}
