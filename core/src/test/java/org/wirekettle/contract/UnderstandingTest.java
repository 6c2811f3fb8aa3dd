package org.wirekettle.contract;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNotNull;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.testng.annotations.Test;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ShapeRows;

/** What is read beyond the messages: headers, faults, policies, places, constraints. One corpus file each. */
public class UnderstandingTest {
    private static final Path CORPUS = Path.of("src/test/resources/corpus").toAbsolutePath();

    private static Contract read(String name) {
        Path wsdl = CORPUS.resolve(name);
        return WsdlReader.read(wsdl.toString(), new Documents(uri -> Files.readAllBytes(Path.of(uri))));
    }

    private static Shape at(Operation.Message m, String path) {
        Shape s = m.root();
        for (String segment : path.split("/")) {
            s = s.segments().get(segment);
            assertNotNull(s, segment + " of " + path);
        }
        return s;
    }

    @Test
    public void headersHeaderFaultsAndFaults() {
        Operation look =
                read("ports.wsdl").port("Plain").get().operation("look").get();
        assertEquals(look.request().root().segments().keySet(), Set.of("header:Session", "header:trace", "Look"));
        assertEquals(
                look.faults().stream()
                        .map(f -> f.name() + (f.isInHeader() ? " in the header" : ""))
                        .toList(),
                List.of("refused", "SessionGone in the header"));
    }

    @Test
    public void overloadsDirectionsAndProtocols() {
        Contract c = read("ports.wsdl");
        assertEquals(
                c.ports().stream()
                        .map(p -> p.name() + " " + p.protocol().label())
                        .toList(),
                List.of("Plain SOAP 1.1", "Newer SOAP 1.2", "Get HTTP"));
        assertEquals(
                c.ports().get(0).operations().stream()
                        .map(o -> o.name() + " " + o.direction() + " " + o.isUsable())
                        .toList(),
                List.of(
                        "look REQUEST_ANSWER true",
                        "look#2 REQUEST_ANSWER true",
                        "tell ONE_WAY true",
                        "warned NOTIFICATION false",
                        "asked SOLICIT true"));
        assertEquals(
                at(c.ports().get(0).operation("look#2").get().request(), "ByName/name")
                        .scalar()
                        .base(),
                "string");
        assertTrue(c.notes().stream()
                .anyMatch(n ->
                        n.code().equals("wsdl.operation.solicit") && n.place().line() > 0));
    }

    @Test
    public void policiesAndAddressing() {
        Contract.Port p = read("policy.wsdl").ports().get(0);
        assertEquals(
                p.requirements().stream()
                        .map(r -> r.text()
                                + (r.isOptional() ? ", optional" : "")
                                + (r.setting() == null ? "" : " [" + r.setting() + "]"))
                        .toList(),
                List.of(
                        "HTTPS [https]",
                        "a WS-Security timestamp [timestamp]",
                        "a WS-Security UsernameToken [token]",
                        "the assertion Mystery of urn:somewhere, which Wire Kettle does not know",
                        "WS-Addressing headers, optional [addressing]"));
        assertEquals(p.operation("look").get().addressingAction(), "urn:corpus:policy/Look");
        assertEquals(p.operation("again").get().addressingAction(), "urn:corpus:policy:Watch:Ask");
    }

    @Test
    public void everyFieldKnowsItsLine() throws Exception {
        Contract c = read("files/main.wsdl");
        Operation ask = c.ports().get(0).operations().get(0);
        for (String path : List.of("Ask/ship/name", "Ask/ship/flag", "Ask/ship", "Lading")) {
            Shape s = path.equals("Lading") ? at(ask.request(), "Ask/Lading") : at(ask.request(), path);
            String line = Files.readAllLines(Path.of(s.place().document()))
                    .get(s.place().line() - 1);
            assertTrue(line.contains("name=\"" + s.name() + "\""), path + " at " + s.place() + ": " + line);
        }
    }

    @Test
    public void identityConstraintsAndWildcardsAreSaid() {
        Shape crew = at(
                read("content-models.wsdl").ports().get(0).operations().get(0).answer(), "Crew");
        assertEquals(crew.constraints(), List.of("key memberKey: t:member by @number"));
        Operation ask = read("wildcards.wsdl").ports().get(0).operations().get(0);
        assertEquals(
                at(ask.request(), "Ask/other/any").documentation(),
                "Any element of another namespace than urn:corpus:wildcards.");
        assertEquals(at(ask.request(), "Ask/extensible/@anyAttribute").kind(), Shape.Kind.ANY_ATTRIBUTE);
        assertTrue(at(ask.request(), "Ask/anything").variants().stream()
                .anyMatch(v -> v.name().local().equals("dateTime")));
    }

    @Test
    public void encodedArraysHaveTypedItems() {
        Operation survey = read("soap-arrays.wsdl").ports().get(0).operations().get(0);
        assertEquals(
                at(survey.request(), "Survey/berths/item/names/item").scalar().base(), "string");
        assertEquals(at(survey.request(), "Survey/grid/item/item").scalar().base(), "int");
        assertEquals(at(survey.request(), "Survey/depths/depth").occurs(), "0..n");
    }

    @Test
    public void furtherOccurrencesAreLaidOut() {
        Operation plan = read("content-models.wsdl").ports().get(0).operations().get(0);
        List<String> paths = ShapeRows.of(plan.request().root(), Map.of(), Set.of(), Map.of("Plan/line", 3)).stream()
                .map(ShapeRows.Row::path)
                .toList();
        assertTrue(paths.containsAll(List.of("Plan/line", "Plan/line[2]/text", "Plan/line[3]/@at")), paths.toString());
    }

    @Test
    public void aNamespaceThatIsNoUriIsUsedAsItIs() {
        Contract c = read("wild/template.wsdl");
        String ns = "[% host %]/wsdl {draft}";
        Operation ask = c.ports().get(0).operation("Ask").get();
        assertEquals(at(ask.request(), "Ask/entry/berth").namespace(), ns);
        assertEquals(at(ask.request(), "Ask/entry").type().namespace(), ns);
        assertEquals(at(ask.request(), "Ask/entry").variants().get(0).name().toString(), "{" + ns + "}LongEntry");
        String good = "<Envelope xmlns='http://schemas.xmlsoap.org/soap/envelope/'><Body><t:Ask xmlns:t='" + ns
                + "' xmlns:i='http://www.w3.org/2001/XMLSchema-instance'>"
                + "<t:entry i:type='t:LongEntry'><t:berth>E4</t:berth><t:remark/></t:entry></t:Ask></Body></Envelope>";
        assertEquals(MessageCheck.check(c, ask.request(), good), List.of());
        List<Problem> wrong = MessageCheck.check(c, ask.request(), good.replace("t:remark/", "t:nothing/"));
        assertTrue(
                wrong.size() == 1 && wrong.get(0).text().contains(ns),
                "in the validator's words, with the name as it is: " + wrong);
    }

    @Test
    public void anRpcPartIsCheckedByItsTypeWhateverIsInsideIt() {
        Contract c = read("wild/template.wsdl");
        Operation keep = c.ports().get(0).operation("Keep").get();
        String answer = "<Envelope xmlns='http://schemas.xmlsoap.org/soap/envelope/'><Body><k:KeepResponse"
                + " xmlns:k='urn:keep'><KeepResult type='x'><berth xmlns='[% host %]/wsdl"
                + " {draft}'>E4</berth></KeepResult></k:KeepResponse></Body></Envelope>";
        assertEquals(MessageCheck.check(c, keep.answer(), answer), List.of());
        assertTrue(MessageCheck.check(c, keep.answer(), answer.replace("berth", "bath"))
                .get(0)
                .text()
                .contains("bath"));
    }

    @Test
    public void notesSpeakOfTheFilesThatWereGivenAndOfferWhatCanBeAdded() throws Exception {
        try (var files = Files.walk(CORPUS)) {
            for (Path f : files.filter(p -> p.toString().endsWith(".wsdl")).toList()) {
                for (Problem n : read(CORPUS.relativize(f).toString()).notes()) {
                    assertTrue(
                            !(n.text() + n.assumed()).contains("wire-kettle")
                                    && !n.text().matches(".*\\b(doc|ns|absent|known)/-?\\d+\\.xsd.*"),
                            f + ": " + n);
                    assertTrue(!n.place().document().isEmpty(), f + ": " + n);
                    assertTrue(!n.code().equals("schema.missing") || n.text().contains("expected at"), f + ": " + n);
                }
            }
        }
    }

    @Test
    public void whatStandsAroundTheDocumentIsNamed() {
        List<String> notes = read("sloppy.wsdl").notes().stream()
                .filter(n -> n.code().startsWith("xml.before") || n.code().startsWith("xml.after"))
                .map(Problem::text)
                .toList();
        assertTrue(notes.stream().allMatch(n -> n.contains(", where nothing of the kind may be.")), notes.toString());
        String page = "<html><script>x()</script><!-- a note -->Hello<w:definitions"
                + " xmlns:w='http://schemas.xmlsoap.org/wsdl/'><w:types/></w:definitions></html>";
        Contract c = WsdlReader.read(
                "a.wsdl", Documents.of(Map.of("a.wsdl", page.getBytes(java.nio.charset.StandardCharsets.UTF_8))));
        assertTrue(
                c.notes()
                        .get(0)
                        .text()
                        .startsWith("A comment, a script element, markup of another document, text stand before"
                                + " <w:definitions>"),
                c.notes().get(0).text());
    }
}
