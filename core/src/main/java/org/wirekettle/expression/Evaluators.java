package org.wirekettle.expression;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URISyntaxException;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;

/**
 * Processes in which expressions are evaluated that might run away: one that takes too long or too much memory ends
 * with its process, and nothing else does. Started when first needed, kept for the next ones. Shareable; closed at the
 * end of the application, and even without that no process outlives it.
 */
final class Evaluators implements AutoCloseable {
    private static final int WAIT_SECONDS = 60;
    private static final int START_MILLIS = 15_000;
    private static final List<String> NEEDED = List.of(
            "org.wirekettle.expression.EvaluatorMain",
            "net.sf.saxon.s9api.Processor",
            "org.xmlresolver.Resolver",
            "org.codehaus.stax2.XMLStreamReader2",
            "com.ctc.wstx.stax.WstxInputFactory");
    private static final ScheduledThreadPoolExecutor WATCH = watch();

    private final EvaluationLimits limits;
    private final Semaphore free;
    private final Deque<Evaluator> idle = new ArrayDeque<>();
    private boolean closed;

    /** @param most processes at a time */
    Evaluators(EvaluationLimits limits, int most) {
        this.limits = limits;
        this.free = new Semaphore(most, true);
    }

    private static ScheduledThreadPoolExecutor watch() {
        ScheduledThreadPoolExecutor out = new ScheduledThreadPoolExecutor(1, r -> {
            Thread t = new Thread(r, "evaluation-deadlines");
            t.setDaemon(true);
            return t;
        });
        out.setRemoveOnCancelPolicy(true);
        return out;
    }

    /** Writes a request. */
    interface Request {
        void write(DataOutputStream out) throws IOException;
    }

    /** @throws EvaluationFailed when it took too long or too much */
    DataInputStream ask(Request request) throws EvaluationFailed {
        byte[] message = bytes(request);
        if (message.length > EvaluatorMain.MAX_MESSAGE_BYTES) {
            throw new EvaluationFailed(
                    "the record and the answer are too large for an expression of this kind; simple paths still work");
        }
        try {
            if (!free.tryAcquire(WAIT_SECONDS, TimeUnit.SECONDS)) {
                throw new EvaluationFailed("too many expressions are being evaluated; try again");
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new EvaluationFailed("the evaluation was interrupted");
        }
        try {
            return new DataInputStream(new ByteArrayInputStream(answer(message)));
        } finally {
            free.release();
        }
    }

    private static byte[] bytes(Request request) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream(1_024);
        try (DataOutputStream out = new DataOutputStream(bytes)) {
            request.write(out);
        } catch (IOException e) {
            throw new UncheckedIOException("memory does not fail", e);
        }
        return bytes.toByteArray();
    }

    private byte[] answer(byte[] message) throws EvaluationFailed {
        for (int attempt = 1; ; attempt++) {
            Evaluator e = take();
            try {
                byte[] answer = e.ask(message, limits.millis());
                give(e);
                return answer;
            } catch (IOException died) {
                String why = e.endedBecause(limits);
                if (why != null) {
                    throw new EvaluationFailed(why);
                }
                if (attempt >= 3) {
                    throw new EvaluationFailed("expressions cannot be evaluated at the moment: " + died.getMessage());
                }
                // It was gone already, ended from outside: another one does it.
            }
        }
    }

    private Evaluator take() throws EvaluationFailed {
        synchronized (idle) {
            if (closed) {
                throw new EvaluationFailed("the application is ending");
            }
            Evaluator kept = idle.poll();
            if (kept != null) {
                return kept;
            }
        }
        try {
            return new Evaluator(limits);
        } catch (IOException e) {
            throw new EvaluationFailed("expressions cannot be evaluated at the moment: " + e.getMessage());
        }
    }

    private void give(Evaluator e) {
        synchronized (idle) {
            if (!closed) {
                idle.push(e);
                return;
            }
        }
        e.end();
    }

    @Override
    public void close() {
        synchronized (idle) {
            closed = true;
            idle.forEach(Evaluator::end);
            idle.clear();
        }
    }

    /** One process. Used by one thread at a time. */
    private static final class Evaluator {
        private final Process process;
        private final DataOutputStream out;
        private final DataInputStream in;
        private volatile boolean isOverTime;

        Evaluator(EvaluationLimits limits) throws IOException {
            ProcessBuilder b = new ProcessBuilder(
                    Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                    "-Xmx" + limits.megabytes() + "m",
                    "-Xss2m",
                    "-XX:+UseSerialGC",
                    "-XX:TieredStopAtLevel=1",
                    "-XX:+ExitOnOutOfMemoryError",
                    "-Xshare:auto",
                    "-cp",
                    classPath(),
                    EvaluatorMain.class.getName(),
                    Integer.toString(limits.millis()));
            // Nothing of the application's settings is any business of an expression.
            b.environment().clear();
            b.redirectError(ProcessBuilder.Redirect.DISCARD);
            process = b.start();
            out = new DataOutputStream(process.getOutputStream());
            in = new DataInputStream(process.getInputStream());
            ScheduledFuture<?> watch = WATCH.schedule(process::destroyForcibly, START_MILLIS, TimeUnit.MILLISECONDS);
            try {
                if (in.readInt() != EvaluatorMain.READY) {
                    throw new IOException("the evaluating process speaks another language");
                }
            } catch (IOException e) {
                end();
                throw new IOException("the evaluating process does not start", e);
            } finally {
                watch.cancel(false);
            }
        }

        byte[] ask(byte[] message, int millis) throws IOException {
            // The process ends itself in time; this is for when it cannot even do that.
            ScheduledFuture<?> watch = WATCH.schedule(
                    () -> {
                        isOverTime = true;
                        process.destroyForcibly();
                    },
                    millis * EvaluationLimits.CLOCK + 1_000L,
                    TimeUnit.MILLISECONDS);
            try {
                out.writeInt(message.length);
                out.write(message);
                out.flush();
                int length = in.readInt();
                byte[] answer = in.readNBytes(length);
                if (answer.length < length) {
                    throw new IOException("the evaluating process ended");
                }
                return answer;
            } catch (IOException e) {
                end();
                throw e;
            } finally {
                watch.cancel(false);
            }
        }

        /** @return in words, or null when it was not the expression's doing */
        String endedBecause(EvaluationLimits limits) {
            int code;
            try {
                code = process.waitFor();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return "the evaluation was interrupted";
            }
            if (isOverTime || code == EvaluatorMain.OVER_TIME) {
                return "it takes longer than " + limits.millis() + " ms, the limit for one expression";
            }
            return code == EvaluatorMain.OVER_MEMORY
                    ? "it needs more memory than " + limits.megabytes() + " MB, the limit for one expression"
                    : null;
        }

        void end() {
            try {
                out.close();
                in.close();
            } catch (IOException e) {
                // it is gone already
            }
            if (process.isAlive() && !waited()) {
                process.destroyForcibly();
            }
        }

        private boolean waited() {
            try {
                return process.waitFor(500, TimeUnit.MILLISECONDS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return false;
            }
        }
    }

    /** Where the classes an evaluating process needs were loaded from here. */
    private static String classPath() {
        Set<String> out = new LinkedHashSet<>();
        List<String> missing = new ArrayList<>();
        for (String name : NEEDED) {
            try {
                Class<?> c = Class.forName(name, false, Evaluators.class.getClassLoader());
                out.add(Path.of(c.getProtectionDomain()
                                .getCodeSource()
                                .getLocation()
                                .toURI())
                        .toString());
            } catch (ClassNotFoundException | URISyntaxException | RuntimeException e) {
                missing.add(name);
            }
        }
        if (out.isEmpty()) {
            throw new IllegalStateException("the classes for evaluating are not in files: " + missing);
        }
        return String.join(java.io.File.pathSeparator, out);
    }
}
