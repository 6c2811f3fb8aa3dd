package org.wirekettle;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetSocketAddress;
import java.nio.channels.ServerSocketChannel;
import java.nio.channels.SocketChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.locks.LockSupport;
import java.util.stream.Stream;
import org.testng.IClassListener;
import org.testng.ISuite;
import org.testng.ISuiteListener;
import org.testng.ITestClass;

/**
 * The suite fails when a class of tests leaves a thread running, or a file or socket open. Found by itself
 * (META-INF/services); nothing has to be said in the tests.
 */
public final class LeakListener implements IClassListener, ISuiteListener {
    private static final Path OPEN = Path.of("/proc/self/fd");
    private static final long PATIENCE_MILLIS = 5_000;
    private static final long LOOK_MILLIS = 25;
    private final Map<String, Set<Long>> threadsBefore = new HashMap<>();
    private final Map<String, Set<String>> filesBefore = new HashMap<>();
    private final List<String> leaks = new ArrayList<>();

    /** The virtual machine keeps a socket of its own from the first use of its networking on. */
    @Override
    public void onStart(ISuite suite) {
        try (ServerSocketChannel server = ServerSocketChannel.open().bind(new InetSocketAddress("127.0.0.1", 0));
                SocketChannel client = SocketChannel.open(server.getLocalAddress())) {
            server.accept().close();
            client.shutdownOutput();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Override
    public void onBeforeClass(ITestClass c) {
        threadsBefore.put(c.getName(), new HashSet<>(threads().keySet()));
        filesBefore.put(c.getName(), files());
    }

    @Override
    public void onAfterClass(ITestClass c) {
        long deadline = System.nanoTime() + PATIENCE_MILLIS * 1_000_000;
        List<String> left = left(c.getName());
        while (!left.isEmpty() && System.nanoTime() < deadline) {
            LockSupport.parkNanos(LOOK_MILLIS * 1_000_000);
            left = left(c.getName());
        }
        left.forEach(what -> leaks.add(c.getRealClass().getSimpleName() + " leaves " + what));
    }

    @Override
    public void onFinish(ISuite suite) {
        if (!leaks.isEmpty()) {
            throw new AssertionError("left open:\n" + String.join("\n", leaks));
        }
    }

    private List<String> left(String of) {
        List<String> out = new ArrayList<>();
        threads().forEach((id, name) -> {
            if (!threadsBefore.getOrDefault(of, Set.of()).contains(id)) {
                out.add("the thread " + name);
            }
        });
        for (String file : files()) {
            if (!filesBefore.getOrDefault(of, Set.of()).contains(file)) {
                out.add("open: " + file);
            }
        }
        return out;
    }

    /** Threads of ours and of libraries; those of the virtual machine and of the test runner are not. */
    private static Map<Long, String> threads() {
        Map<Long, String> out = new HashMap<>();
        for (Thread t : Thread.getAllStackTraces().keySet()) {
            boolean isOfMachine = t.getThreadGroup() == null
                    || t.getThreadGroup().getName().equals("system")
                    || t.getName().startsWith("surefire")
                    || t.getName().startsWith("ForkJoinPool.commonPool")
                    // One for all calls, one for all evaluations, from the first one on.
                    || t.getName().endsWith("-deadlines");
            if (!isOfMachine && t.isAlive()) {
                out.put(t.getId(), t.getName());
            }
        }
        return out;
    }

    /** Files of tests, pipes to processes and sockets; classes are opened as they are needed. */
    private static Set<String> files() {
        Set<String> out = new HashSet<>();
        try (Stream<Path> all = Files.list(OPEN)) {
            for (Path fd : (Iterable<Path>) all::iterator) {
                String target = target(fd);
                if (target.startsWith("socket:") || target.startsWith("/tmp/")) {
                    out.add(target.replace(" (deleted)", ""));
                }
            }
        } catch (IOException e) {
            // not on this system: threads are still looked at
        }
        return out;
    }

    private static String target(Path fd) {
        try {
            return Files.readSymbolicLink(fd).toString();
        } catch (IOException e) {
            return "";
        }
    }
}
