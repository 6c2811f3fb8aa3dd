package org.wirekettle.cli;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.soap.Envelopes;

/**
 * The command line over the corpus: every usable operation of every description gives examples that fit and are read
 * back.
 */
public class CorpusTest {
    private static final Path CORPUS = Path.of("src/test/resources/corpus");

    /** What a command printed, and its exit code. */
    private record Ran(int exit, String out, String err) {}

    private static Ran wk(String... args) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ByteArrayOutputStream err = new ByteArrayOutputStream();
        int exit = Wk.run(
                new PrintStream(out, true, StandardCharsets.UTF_8),
                new PrintStream(err, true, StandardCharsets.UTF_8),
                args);
        return new Ran(exit, out.toString(StandardCharsets.UTF_8), err.toString(StandardCharsets.UTF_8));
    }

    private static String corpus(String name) {
        return CORPUS.resolve(name).toString();
    }

    @DataProvider
    public Object[][] operations() throws Exception {
        List<Object[]> out = new ArrayList<>();
        for (String wsdl : new String[] {
            "polymorphism.wsdl", "rpc-literal.wsdl", "rpc-encoded.wsdl", "sloppy.wsdl", "cargo/main.wsdl"
        }) {
            JsonNode read = new ObjectMapper()
                    .readTree(wk("read", corpus(wsdl), "--json").out());
            read.at("/services").forEach(s -> s.get("ports")
                    .forEach(p -> p.get("operations").forEach(o -> {
                        if (o.get("usable").asBoolean()) {
                            out.add(new Object[] {wsdl, o.get("name").asText(), false});
                            if (o.get("direction").asText().equals("request-answer")) {
                                out.add(new Object[] {wsdl, o.get("name").asText(), true});
                            }
                        }
                    })));
        }
        assertEquals(out.size(), 9);
        return out.toArray(new Object[0][]);
    }

    @Test(dataProvider = "operations")
    public void examplesFitAndAreReadBack(String wsdl, String operation, boolean answer) throws Exception {
        for (String size : new String[] {"required", "full"}) {
            List<String> args = new ArrayList<>(List.of("example", corpus(wsdl), "--operation", operation));
            args.addAll(answer ? List.of("--answer") : List.of());
            args.addAll(size.equals("full") ? List.of("--full") : List.of());
            Ran example = wk(args.toArray(new String[0]));
            assertTrue(example.out().startsWith("<?xml"), example.err());
            assertEquals(
                    Envelopes.read(example.out().strip().getBytes(StandardCharsets.UTF_8))
                            .body()
                            .size(),
                    1);
            Path file = Files.createTempFile("example", ".xml");
            Files.writeString(file, example.out());
            List<String> check =
                    new ArrayList<>(List.of("validate", corpus(wsdl), file.toString(), "--operation", operation));
            check.addAll(answer ? List.of("--answer") : List.of());
            Ran valid = wk(check.toArray(new String[0]));
            assertEquals(valid.exit(), 0, size + ": " + valid.err() + example.out());
            Files.delete(file);
        }
    }

    @Test
    public void aSloppyDescriptionIsUsableAndSaysWhatWasAssumed() throws Exception {
        Ran r = wk("read", corpus("sloppy.wsdl"), "--json");
        assertEquals(r.exit(), 1);
        JsonNode read = new ObjectMapper().readTree(r.out());
        List<String> codes = new ArrayList<>();
        read.get("notes").forEach(n -> codes.add(n.get("code").asText()));
        for (String code : new String[] {
            "xml.before",
            "xml.after",
            "xml.doctype",
            "xml.entity",
            "xml.prefix",
            "wsdl.stray",
            "wsdl.duplicate",
            "wsdl.missing",
            "schema.src-resolve",
            "wsdl.operation.unusable",
            "wsdl.address.missing"
        }) {
            assertTrue(codes.contains(code), code + " in " + codes);
        }
        JsonNode broken = read.at("/services/0/ports/0/operations/1");
        assertEquals(broken.get("usable").asBoolean(), false);
        assertEquals(broken.get("why").asText(), "its message tns:Missing is not defined.");
        assertEquals(wk("read", corpus("sloppy.wsdl"), "--no-repairs").exit(), 2);
    }

    @Test
    public void exitCodesAndMessages() throws Exception {
        assertEquals(wk("read", corpus("polymorphism.wsdl")).exit(), 0);
        assertTrue(wk("read", corpus("polymorphism.wsdl")).out().contains("Declare, document/literal, request-answer"));
        Ran missing = wk("read", "/nowhere/at/all.wsdl");
        assertEquals(missing.exit(), 2);
        assertEquals(
                missing.err().strip(),
                "/nowhere/at/all.wsdl: It cannot be had: there is no file /nowhere/at/all.wsdl.");
        assertTrue(wk("example", corpus("polymorphism.wsdl"), "--operation", "Nothing")
                .err()
                .contains("there are: Declare"));
        Path bad = Files.createTempFile("bad", ".xml");
        Files.writeString(bad, "<Declare xmlns='urn:poly'/>");
        Ran invalid = wk("validate", corpus("polymorphism.wsdl"), bad.toString(), "--operation", "Declare");
        assertEquals(invalid.exit(), 2);
        assertTrue(invalid.err().startsWith("error: "), invalid.err());
        Files.delete(bad);
    }

    @Test
    public void expressionsAreEvaluatedOverFiles() throws Exception {
        Path csv = Files.createTempFile("calls", ".csv");
        Files.writeString(csv, "ref;draft m\nA;7.2\nB;9.5\n");
        Path xml = Files.createTempFile("call", ".xml");
        Files.writeString(xml, "\n<call xmlns='urn:c'><ref>C</ref><ref>D</ref></call>");
        Path json = Files.createTempFile("call", ".json");
        Files.writeString(json, "{\"cargo\": [{\"t\": 1}, {\"t\": 2.50}], \"none\": null}");
        assertEquals(
                wk("eval", "concat(ref, ' ', draft_x0020_m)", csv.toString())
                        .out()
                        .lines()
                        .toList(),
                List.of("A 7.2", "B 9.5"));
        assertEquals(
                wk("eval", "ref", xml.toString(), "--engine", "plain")
                        .out()
                        .lines()
                        .toList(),
                List.of("C", "D"));
        assertEquals(
                wk("eval", "sum(cargo/t)", json.toString(), "--engine", "full")
                        .out()
                        .strip(),
                "3.5");
        assertEquals(wk("eval", "007").out().strip(), "7");
        assertTrue(
                wk("eval", "for $r in ref return $r", xml.toString()).err().contains("the fast path does not take it"));
        for (String[] wrong :
                new String[][] {{"ref +", "character"}, {"1 idiv 0", "zero"}, {"upper-case#1", "function"}}) {
            Ran r = wk("eval", wrong[0], csv.toString());
            assertEquals(r.exit(), 1, r.err());
            assertTrue(r.err().contains(wrong[1]) && r.out().isEmpty(), r.err());
        }
        assertEquals(wk("eval", "a || b", "--engine", "plain").exit(), 1);
        assertEquals(wk("eval", "a", "--engine", "magic").exit(), 1);
        assertEquals(wk("eval", "a", "/nowhere/at/all.csv").exit(), 1);
        for (Path p : List.of(csv, xml, json)) {
            Files.delete(p);
        }
    }

    @Test
    public void aZipIsReadWithinLimits() throws Exception {
        Path zip = Files.createTempFile("cargo", ".zip");
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(zip));
                var files = Files.walk(CORPUS.resolve("cargo"))) {
            for (Path f : files.filter(Files::isRegularFile).toList()) {
                out.putNextEntry(new ZipEntry(CORPUS.relativize(f).toString()));
                out.write(Files.readAllBytes(f));
            }
        }
        Ran r = wk("read", zip.toString());
        assertEquals(r.exit(), 0, r.err());
        assertTrue(r.out().contains("Send, document/literal, one-way"), r.out());
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(zip))) {
            out.putNextEntry(new ZipEntry("../../escape.wsdl"));
            out.write("<a/>".getBytes(StandardCharsets.UTF_8));
        }
        assertTrue(wk("read", zip.toString()).err().contains("outside itself"));
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(zip))) {
            out.putNextEntry(new ZipEntry("bomb.wsdl"));
            byte[] zeros = new byte[1024 * 1024];
            for (int i = 0; i < 110; i++) {
                out.write(zeros);
            }
        }
        assertTrue(Files.size(zip) < 1_000_000);
        assertTrue(wk("read", zip.toString()).err().contains("unpacks to more than 96 MB"));
        Files.delete(zip);
    }
}
