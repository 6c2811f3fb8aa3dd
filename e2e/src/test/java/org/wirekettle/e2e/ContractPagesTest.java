package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.file.Path;
import org.openqa.selenium.Keys;
import org.testng.ITestResult;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/**
 * The contract pages and the Bench in the browser: notes and lines, versions, registry, and messages of every awkward
 * kind.
 */
public class ContractPagesTest extends ServerTest {
    private Browser b;

    @Override
    protected void prepare() throws Exception {
        TideFlow.make(wk, services, TideFlow.portCalls(), 4);
        wk.put(
                        "/api/connections/registry",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url() + "/registry\"}}}")
                .expect(204);
        wk.put(
                        "/api/connections/dues-office",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url() + "/dues\"}}}")
                .expect(204);
        for (String[] c : new String[][] {{"HarbourDues", "/dues?wsdl"}, {"MarineBulletin", "/bulletin?wsdl"}}) {
            wk.post("/api/contracts", "{\"url\":\"" + services.url() + c[1] + "\",\"name\":\"" + c[0] + "\"}")
                    .expect(200);
        }
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

    @Test
    public void notesLeadToTheirLineAndMissingFilesAreAdded() throws Exception {
        b.go(wk.url() + "/contracts/HarbourDues");
        b.says("One port can be called");
        b.says("The file old-tariffs.xsd is missing");
        b.says("may affect messages");
        b.click("//aside//button[contains(., 'settle')]");
        b.says("This operation cannot be called");
        b.says("its message d:SettleIn is not defined.");
        b.click("//aside//button[contains(., 'The whole contract')]");
        Path file = java.nio.file.Files.writeString(
                Path.of(WireKettle.env("WK_TEST_WORK"), "old-tariffs.xsd"),
                "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\""
                        + " targetNamespace=\"urn:tallow-reach:dues\"><xs:complexType"
                        + " name=\"OldList\"><xs:sequence><xs:element name=\"code\""
                        + " type=\"xs:string\"/></xs:sequence></xs:complexType></xs:schema>");
        b.upload("missing files", file);
        b.says("version 2");
        b.button("Compare with the source");
        b.says("the source says the same as version 2");
        b.click("//tr[contains(., 'is defined twice')]//button");
        assertTrue(
                b.text("//div[contains(@class,'marked')]").contains("RateIn"),
                b.text("//div[contains(@class,'marked')]"));
        assertTrue(b.url().contains("line=17"), b.url());
    }

    @Test
    public void aDescriptionIsFoundInTheRegistryAndItsFieldsBySearch() {
        b.go(wk.url() + "/contracts/import");
        b.field("business or service", "cargo" + Keys.ENTER);
        b.button("Import its WSDL");
        b.says("nothing had to be repaired");
        b.field("search", "dangerous");
        b.click("//aside//button[contains(., 'unNumber')]");
        b.says("For dangerous goods.");
        assertTrue(b.text(".shaperow.at").startsWith("@unNumber"), b.text(".shaperow.at"));
        b.click("//div[contains(@class,'shaperow') and contains(@class,'at')]//button");
        assertTrue(b.text("//div[contains(@class,'marked')]").contains("unNumber"));
        b.click("//button[contains(., 'Message shapes')]");
        b.click("//*[contains(@class,'ant-segmented-item')][contains(., 'Example with everything')]");
        b.says("valid against the schema");
    }

    @Test
    public void whatChangedIsShownAndTheFlowIsMovedWithItsRename() {
        b.go(wk.url() + "/contracts/import?name=TideDesk");
        b.type("#wsdl", services.url() + "/tidedesk/next?wsdl", Keys.ENTER);
        b.says("4 breaking");
        b.says("2 rows to mend");
        b.click("//button[contains(., 'Move to version 2')]");
        b.find("//*[contains(., 'breaking') and not(contains(., 'Move to version'))]");
        b.click("//nav//a[contains(., 'Contracts')]");
        b.click("//a[. = 'TideDesk']");
        b.says("version 2");
        b.click("//a[. = 'Tide windows']");
        b.says("arrivalUtc");
        b.says("TideDesk v2");
    }

    @Test
    public void rowsAndXmlAreTwoViewsOfOneRequest() {
        b.go(wk.url() + "/contracts/HarbourDues/DuesPort/computeDues");
        b.click("//*[contains(@class,'ant-segmented-item')][. = 'XML']");
        b.replace(
                "[aria-label=\"request XML\"]",
                "<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body><d:computeDues"
                        + " xmlns:d='urn:tallow-reach:dues'><visits>"
                        + "<item><vessel>Gull</vessel><grossTonnage>3000</grossTonnage><days>2</days></item><item>"
                        + "<vessel>Tern</vessel><grossTonnage>100</grossTonnage><days>1</days></item></visits>"
                        + "<currency>"
                        + "crowns</currency><colour/></d:computeDues></e:Body></e:Envelope>");
        b.says("has the element colour at line 1");
        b.click("//*[contains(@class,'ant-segmented-item')][. = 'Rows']");
        b.says("item 2");
        b.click("//button[@aria-label='another item']");
        b.says("item 3");
        b.click("//button[@aria-label='without item 3']");
        b.choose("send over", "dues-office");
        b.replace("(//input[@aria-label='days'])[2]", "3");
        b.click("//button[contains(., 'Send')]");
        b.says("16.50");
        b.click("//button[contains(., 'history')]");
        b.click("//button[contains(@class,'item')][contains(., 'admin')]");
        b.says("by admin");
        assertEquals(b.find("(//input[@aria-label='vessel'])[2]").getAttribute("value"), "Tern");
    }

    @Test
    public void aDocumentInAStringOpensAndAnAnswerBecomesATable() {
        b.go(wk.url() + "/contracts/MarineBulletin/BulletinSoap/GetBulletin");
        b.click("//button[. = 'example']");
        b.says("the message fits its schema");
        b.keys(Keys.chord(Keys.CONTROL, Keys.ENTER));
        b.click("//button[contains(., 'Send')]");
        b.click("//button[. = 'open as XML']");
        b.click("(//button[. = 'sea'])[2]");
        b.says("1 found");
        assertEquals(
                b.find("[aria-label=\"XPath over the answer\"]").getAttribute("value"),
                "parse-xml(GetBulletinResult)/bulletin/watch[2]/sea");
        b.go(wk.url() + "/contracts/TideDesk/TideDesk12/ListPorts");
        b.click("//button[contains(., 'Send')]");
        b.click("//*[contains(@class,'ant-segmented-item')][. = 'Table']");
        b.says("port (4)");
        assertEquals(b.all("//table//tr").size(), 5);
    }
}
