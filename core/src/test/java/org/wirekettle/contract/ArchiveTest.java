package org.wirekettle.contract;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.problem.Refused;

/** Descriptions that come as an archive: what is taken out of it, and what is refused. */
public class ArchiveTest {
    private static byte[] zip(Map<String, byte[]> files) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            for (Map.Entry<String, byte[]> f : files.entrySet()) {
                zip.putNextEntry(new ZipEntry(f.getKey()));
                zip.write(f.getValue());
                zip.closeEntry();
            }
        }
        return out.toByteArray();
    }

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    private static Refused refusal(byte[] archive) {
        return expectThrows(Refused.class, () -> Archive.unpack("all.zip", archive));
    }

    @Test
    public void filesComeInTheirOrderAndFoldersDoNot() throws Exception {
        Map<String, byte[]> in = new LinkedHashMap<>();
        in.put("wsdl/", new byte[0]);
        in.put("wsdl/b.wsdl", bytes("b"));
        in.put("__MACOSX/wsdl/._b.wsdl", bytes("rubbish"));
        in.put("wsdl\\types\\a.xsd", bytes("a"));
        Map<String, byte[]> out = Archive.unpack("all.zip", zip(in));
        assertEquals(List.copyOf(out.keySet()), List.of("wsdl/b.wsdl", "wsdl/types/a.xsd"));
        assertEquals(out.get("wsdl/b.wsdl"), bytes("b"));
        assertTrue(Archive.isZip(zip(in)));
        assertFalse(Archive.isZip(bytes("<definitions/>")));
    }

    @DataProvider
    Object[][] outside() {
        return new Object[][] {
            {"../secret.wsdl"}, {"a/../../secret.wsdl"}, {"/etc/x.wsdl"}, {"C:/x.wsdl"}, {"a/.."}, {"a\\..\\..\\x"}
        };
    }

    @Test(dataProvider = "outside")
    public void aFileOutsideItselfIsRefused(String name) throws Exception {
        assertEquals(refusal(zip(Map.of(name, bytes("x")))).code(), "archive.path");
    }

    @Test
    public void namesThatOnlyLookLikeItAreTaken() throws Exception {
        assertEquals(
                Archive.unpack("all.zip", zip(Map.of("a..b/..c.wsdl", bytes("x"))))
                        .keySet(),
                java.util.Set.of("a..b/..c.wsdl"));
    }

    @Test
    public void aSmallArchiveWithALargeFileIsRefusedBeforeItIsUnpacked() throws Exception {
        byte[] bomb = zip(Map.of("zeros.wsdl", new byte[Archive.MAX_BYTES + 1]));
        assertTrue(bomb.length < 200_000, "the archive itself is small");
        Refused r = refusal(bomb);
        assertEquals(r.code(), "archive.size");
        assertEquals(r.getMessage(), "The archive unpacks to more than 96 MB.");
    }

    @Test
    public void tooManyFilesAreRefused() throws Exception {
        Map<String, byte[]> many = new LinkedHashMap<>();
        for (int i = 0; i <= Archive.MAX_ENTRIES; i++) {
            many.put("f" + i + ".xsd", new byte[0]);
        }
        assertEquals(refusal(zip(many)).getMessage(), "The archive has more than 2000 files.");
    }

    @Test
    public void aDamagedOrEmptyOneIsRefusedInWords() throws Exception {
        byte[] good = zip(Map.of("a.wsdl", bytes("x".repeat(5_000))));
        assertEquals(refusal(Arrays.copyOf(good, good.length / 3)).code(), "archive.damaged");
        assertEquals(refusal(zip(Map.of("folder/", new byte[0]))).code(), "archive.empty");
        assertEquals(refusal(bytes("PK\3\4")).code(), "archive.empty");
        byte[] bent = good.clone();
        bent[40] ^= 0x5A;
        assertEquals(refusal(bent).code(), "archive.damaged");
    }

    @Test
    public void theRootIsTheDescriptionThatHasAService() {
        Map<String, byte[]> files = new LinkedHashMap<>();
        files.put("types.xsd", bytes("<schema/>"));
        files.put("abstract.wsdl", bytes("<definitions><portType name='P'/></definitions>"));
        files.put("main.wsdl", bytes("<w:definitions><w:service name='S'/></w:definitions>"));
        assertEquals(Archive.root(files), "main.wsdl");
        files.remove("main.wsdl");
        assertEquals(Archive.root(files), "abstract.wsdl");
        assertEquals(
                Archive.root(
                        Map.of(
                                "odd-name.xml",
                                bytes(
                                        "<definitions xmlns='http://schemas.xmlsoap.org/wsdl/'><service name='S'/></definitions>"))),
                "odd-name.xml");
    }
}
