package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/**
 * What {@code ./start} does on a machine where it is not alone: strangers on its port, an end by force, impatient
 * users.
 */
public class StartTest {
    private Path state;
    private final List<Process> scripts = new ArrayList<>();

    @BeforeMethod
    void folder() throws IOException {
        state = Files.createTempDirectory(Path.of(WireKettle.env("WK_TEST_WORK")), "start");
        // PostgreSQL's own user has to pass when this is root's.
        Files.setPosixFilePermissions(state, PosixFilePermissions.fromString("rwx--x--x"));
    }

    @AfterMethod(alwaysRun = true)
    void end() throws Exception {
        for (Process p : scripts) {
            p.destroy();
            if (!p.waitFor(30, TimeUnit.SECONDS)) {
                p.destroyForcibly();
            }
        }
        for (ProcessHandle left : ours()) {
            left.destroyForcibly();
        }
        scripts.clear();
    }

    @Test(
            description =
                    "a stranger on the wanted port is not given the administrator's password, and nothing stays behind")
    public void tellsAStrangerFromItsOwnServer() throws Exception {
        List<String> heard = new CopyOnWriteArrayList<>();
        HttpServer stranger = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        stranger.createContext("/", e -> {
            heard.add(e.getRequestMethod() + " " + e.getRequestURI() + " "
                    + new String(e.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
            byte[] welcome = "welcome".getBytes(StandardCharsets.UTF_8);
            e.getResponseHeaders().set("Set-Cookie", "wk_session=mine");
            e.sendResponseHeaders(200, welcome.length);
            e.getResponseBody().write(welcome);
            e.close();
        });
        stranger.start();
        try {
            Process script = start(stranger.getAddress().getPort());
            assertTrue(script.waitFor(90, TimeUnit.SECONDS), said());
            assertEquals(script.exitValue(), 1, said());
        } finally {
            stranger.stop(0);
        }
        String port = Integer.toString(stranger.getAddress().getPort());
        assertTrue(said().contains("something else listens on port " + port + "; choose another by WK_PORT"), said());
        assertTrue(heard.stream().allMatch(h -> h.equals("GET /api/instance ")), heard.toString());
        assertEquals(ours(), List.of());
    }

    @Test(
            description =
                    "killed, started again, and interrupted twice: one server at a time, none afterwards, no secret in"
                            + " sight")
    public void comesBackAfterBeingKilled() throws Exception {
        Set<String> seen = ConcurrentHashMap.newKeySet();
        Thread watch = new Thread(() -> {
            while (!Thread.interrupted()) {
                arguments().forEach(seen::add);
            }
        });
        watch.setDaemon(true);
        watch.start();
        Process first = start(0);
        awaitAddress(first);
        long firstServer = server();
        first.destroyForcibly().waitFor();
        assertTrue(ProcessHandle.of(firstServer).isPresent(), "this test needs the server to outlive its script");
        Files.delete(state.resolve("address"));

        Process second = start(0);
        awaitAddress(second);
        watch.interrupt();
        assertFalse(
                ProcessHandle.of(firstServer).map(ProcessHandle::isAlive).orElse(false), "two servers on one state");
        assertTrue(said().contains("ending what an earlier start left running"), said());
        Process third = start(0);
        assertTrue(third.waitFor(30, TimeUnit.SECONDS));
        assertTrue(
                said().contains("already runs from here: "
                        + Files.readString(state.resolve("address")).strip()),
                said());

        String log = Files.readString(state.resolve("home/logs/server.log"));
        assertTrue(log.split("FlywayExecutor. Database", -1).length == 3, "both starts are in the log: " + log);
        for (String secret : List.of("admin-password", "pg/password")) {
            String text = Files.readString(state.resolve(secret)).strip();
            assertTrue(text.length() > 10);
            assertTrue(seen.stream().noneMatch(a -> a.contains(text)), secret + " is in an argument list");
        }
        assertTrue(
                seen.stream().anyMatch(a -> a.contains("wirekettle-demo") && a.contains("load")),
                "arguments were looked at");
        try (Stream<Path> files = Files.walk(state)) {
            for (Path p : files.filter(Files::isRegularFile).toList()) {
                String others = PosixFilePermissions.toString(Files.getPosixFilePermissions(p))
                        .substring(3);
                boolean isOurs = !p.startsWith(state.resolve("pg"));
                assertTrue(!isOurs || others.equals("------"), p + " is " + others + " for others");
            }
        }

        interrupt(second);
        Thread.sleep(200);
        interrupt(second);
        assertTrue(second.waitFor(60, TimeUnit.SECONDS));
        assertEquals(ours(), List.of());
        assertFalse(Files.exists(state.resolve("pg/data/postmaster.pid")), "PostgreSQL still runs");
    }

    private Process start(int port) throws IOException {
        ProcessBuilder b = new ProcessBuilder(WireKettle.root().resolve("start").toString(), "--no-build");
        b.environment().put("WK_STATE", state.toString());
        if (port != 0) {
            b.environment().put("WK_PORT", Integer.toString(port));
        }
        b.directory(state.toFile());
        b.redirectErrorStream(true)
                .redirectOutput(
                        ProcessBuilder.Redirect.appendTo(state.resolve("said").toFile()));
        Files.write(state.resolve("said"), new byte[0]);
        Files.setPosixFilePermissions(state.resolve("said"), PosixFilePermissions.fromString("rw-------"));
        Process p = b.start();
        scripts.add(p);
        return p;
    }

    private void awaitAddress(Process script) throws Exception {
        WireKettle.until("it does not come up", () -> {
            boolean isUp = said().contains("Ctrl-C stops it.");
            assertTrue(isUp || script.isAlive(), said());
            return isUp;
        });
    }

    private String said() throws IOException {
        return Files.readString(state.resolve("said"));
    }

    private long server() throws IOException {
        String[] lines = Files.readString(state.resolve("processes")).strip().split("\n");
        return Long.parseLong(lines[lines.length - 1].split(" ")[0]);
    }

    private static void interrupt(Process p) throws Exception {
        new ProcessBuilder("bash", "-c", "kill -INT " + p.pid()).start().waitFor();
    }

    /** The processes that work in this test's folder, other than the shell waiting for them. */
    private List<ProcessHandle> ours() {
        return ProcessHandle.allProcesses()
                .filter(p -> read(p.pid(), "environ").contains("WK_HOME=" + state)
                        || read(p.pid(), "cmdline").contains(state + "/pg"))
                .toList();
    }

    private static List<String> arguments() {
        return ProcessHandle.allProcesses()
                .map(p -> read(p.pid(), "cmdline"))
                .filter(a -> !a.isEmpty())
                .toList();
    }

    private static String read(long pid, String what) {
        try {
            return Files.readString(Path.of("/proc/" + pid + "/" + what), StandardCharsets.ISO_8859_1)
                    .replace('\0', ' ');
        } catch (IOException e) {
            return "";
        }
    }
}
