package org.wirekettle.connector.file;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget.Pass;
import org.wirekettle.connector.RecordTarget.Prepared;
import org.wirekettle.record.Node;

/** A file for each row, whole or not there. */
public class FolderTargetTest {
    private Path folder;
    private Path run;

    @BeforeMethod
    public void folders() throws IOException {
        folder = Files.createTempDirectory("folder").resolve("answers");
        run = Files.createTempDirectory("run");
    }

    private FolderTarget begun(boolean replace, Pass.Stage stage) throws IOException {
        FolderTarget out = new FolderTarget(folder, replace);
        out.begin(new Pass(1, stage, run));
        return out;
    }

    private static Node row(String name, String text) {
        return new Node("", "row").add(Node.leaf("name", name)).add(Node.leaf("text", text));
    }

    private List<String> names() throws IOException {
        try (Stream<Path> all = Files.list(folder)) {
            return all.map(p -> p.getFileName().toString()).sorted().toList();
        }
    }

    @Test
    public void eachRowIsAFile() throws IOException {
        FolderTarget t = begun(false, Pass.Stage.BEGINS);
        assertTrue(t.prepare(List.of(row("a.xml", "<a/>"), row("b.xml", "bäh\n")))
                .refused()
                .isEmpty());
        assertEquals(names().stream().filter(n -> !n.startsWith(".")).toList(), List.of(), "not before it commits");
        t.commit();
        t.finish();
        assertEquals(names(), List.of("a.xml", "b.xml"));
        assertEquals(Files.readString(folder.resolve("b.xml")), "bäh\n");
        try (RecordSource.Stream in = new FolderSource(folder, false).open()) {
            assertEquals(in.next().child("bytes").string(), "4");
            assertEquals(in.next().child("text").string(), "bäh\n");
            assertEquals(in.next(), null);
        }
    }

    @Test
    public void whatNamesNoFileOfTheFolderIsRefused() throws IOException {
        Files.createDirectories(folder);
        Files.writeString(folder.resolve("there"), "x");
        List<Node> rows = List.of(
                row("../evil", ""),
                row("", ""),
                row(".hidden", ""),
                row("a/b", ""),
                row("twice", ""),
                row("twice", ""),
                row("there", "y"),
                Node.leaf("row", "text"),
                new Node("", "row").add(Node.leaf("name", "n")));
        FolderTarget t = begun(false, Pass.Stage.BEGINS);
        Prepared p = t.prepare(rows);
        assertEquals(p.refused().keySet().stream().sorted().toList(), List.of(0, 1, 2, 3, 5, 6, 7, 8));
        assertEquals(p.refused().get(6), "name: there is a file named there already");
        assertEquals(
                p.refused().get(8), "a file for each row takes rows with the fields name and text; this one has name");
        t.abandon();
        assertEquals(names(), List.of("there"));
        assertEquals(Files.readString(folder.resolve("there")), "x");
        assertTrue(begun(true, Pass.Stage.BEGINS)
                .prepare(List.of(row("there", "y")))
                .refused()
                .isEmpty());
    }

    @Test
    public void aBatchOfARunThatDiedIsBroughtToItsEndOrForgotten() throws IOException {
        FolderTarget died = begun(false, Pass.Stage.BEGINS);
        String token = died.prepare(List.of(row("a", "1"), row("b", "2"))).token();
        // It died after one of two files had its name.
        Files.move(folder.resolve("." + token + "-0.part"), folder.resolve("a"));
        FolderTarget heir = begun(false, Pass.Stage.GOES_ON);
        assertFalse(heir.wasCommitted("another"));
        assertTrue(heir.wasCommitted(token));
        assertEquals(names(), List.of("a", "b"));
        assertEquals(Files.readString(folder.resolve("b")), "2");

        begun(false, Pass.Stage.GOES_ON).prepare(List.of(row("c", "3")));
        FolderTarget another = new FolderTarget(folder, false);
        another.begin(new Pass(2, Pass.Stage.BEGINS, Files.createTempDirectory("another-run")));
        another.finish();
        assertEquals(names().size(), 3, "another run takes nothing away");
        try (Stream<Path> lists = Files.list(run)) {
            Path last = lists.filter(l -> {
                        try {
                            return Files.readString(l).equals("c");
                        } catch (IOException e) {
                            throw new java.io.UncheckedIOException(e);
                        }
                    })
                    .findFirst()
                    .orElseThrow();
            Files.delete(last);
        }
        begun(false, Pass.Stage.GOES_ON);
        assertEquals(names(), List.of("a", "b"), "what is recorded nowhere is taken away");
    }

    @Test
    public void theBatchBeforeIsKnownUntilTheNextOneIsAccountedFor() throws IOException {
        FolderTarget t = begun(false, Pass.Stage.BEGINS);
        String first = t.prepare(List.of(row("a", "1"))).token();
        t.commit();
        String second = t.prepare(List.of(row("b", "2"))).token();
        // It died here: the ledger knows of the first only.
        FolderTarget heir = begun(false, Pass.Stage.GOES_ON);
        assertTrue(heir.wasCommitted(first));
        assertEquals(heir.prepare(List.of(row("b", "2"))).refused().size(), 0);
        heir.commit();
        heir.finish();
        assertEquals(names(), List.of("a", "b"));
        assertFalse(heir.wasCommitted(second));
    }

    @Test
    public void aFileThatWasTakenAwayIsNoSilentLoss() throws IOException {
        FolderTarget t = begun(false, Pass.Stage.BEGINS);
        String token = t.prepare(List.of(row("a", "1"))).token();
        Files.delete(folder.resolve("." + token + "-0.part"));
        IOException e = org.testng.Assert.expectThrows(IOException.class, t::commit);
        assertEquals(e.getMessage(), "what the run had ready for the file a was taken away; start a new run");
    }
}
