package org.wirekettle.e2e;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.bouncycastle.crypto.digests.MD4Digest;

/** A service that asks for NTLM (MS-NLMP, version 2), once a connection; what proves the password it reckons itself. */
final class NtlmDesk implements AutoCloseable {
    private static final byte[] CHALLENGE = {1, 2, 3, 4, 5, 6, 7, 8};
    private static final int UNICODE = 1;

    private final ServerSocket listening;
    private final String user;
    private final String password;
    private final String domain;
    final List<String> log = java.util.Collections.synchronizedList(new ArrayList<>());

    NtlmDesk(String user, String password, String domain) throws IOException {
        this.user = user;
        this.password = password;
        this.domain = domain;
        this.listening = new ServerSocket(0, 10, InetAddress.getLoopbackAddress());
        start(() -> {
            while (!listening.isClosed()) {
                try {
                    Socket s = listening.accept();
                    start(() -> serve(s));
                } catch (IOException e) {
                    return;
                }
            }
        });
    }

    private static void start(Runnable work) {
        Thread t = new Thread(work, "ntlm");
        t.setDaemon(true);
        t.start();
    }

    String url() {
        return "http://127.0.0.1:" + listening.getLocalPort() + "/";
    }

    private void serve(Socket s) {
        try (s) {
            InputStream in = s.getInputStream();
            OutputStream out = s.getOutputStream();
            boolean isKnown = false;
            for (; ; ) {
                String head = head(in);
                if (head.isEmpty()) {
                    return;
                }
                int length = Integer.parseInt(head.replaceFirst("(?is).*\r\nContent-Length: (\\d+).*", "$1"));
                in.readNBytes(length);
                String said = head.matches("(?is).*\r\nAuthorization: NTLM .*")
                        ? head.replaceFirst("(?is).*\r\nAuthorization: NTLM (\\S+).*", "$1")
                        : "";
                byte[] message = Base64.getDecoder().decode(said);
                int kind = message.length < 12 ? 0 : message[8];
                log.add(isKnown ? "known" : "message " + kind);
                String asks = "";
                if (!isKnown && kind == 1) {
                    asks = "WWW-Authenticate: NTLM " + Base64.getEncoder().encodeToString(challenge()) + "\r\n";
                } else if (!isKnown && kind == 3 && isProven(message)) {
                    isKnown = true;
                } else if (!isKnown) {
                    asks = "WWW-Authenticate: NTLM\r\n";
                }
                String answer = isKnown ? "<ok/>" : "";
                out.write(("HTTP/1.1 " + (isKnown ? "200 OK" : "401 Log in") + "\r\n" + asks + "Content-Length: "
                                + answer.length() + "\r\n\r\n" + answer)
                        .getBytes(StandardCharsets.US_ASCII));
            }
        } catch (IOException e) {
            // The other side has gone.
        }
    }

    private static String head(InputStream in) throws IOException {
        StringBuilder out = new StringBuilder();
        while (out.indexOf("\r\n\r\n") < 0) {
            int b = in.read();
            if (b < 0) {
                return "";
            }
            out.append((char) b);
        }
        return out.toString();
    }

    /** The second message (MS-NLMP §2.2.1.2), with what it says of the domain. */
    private byte[] challenge() {
        byte[] name = domain.getBytes(StandardCharsets.UTF_16LE);
        ByteBuffer info = ByteBuffer.allocate(8 + name.length).order(ByteOrder.LITTLE_ENDIAN);
        info.putShort((short) 2)
                .putShort((short) name.length)
                .put(name)
                .putShort((short) 0)
                .putShort((short) 0);
        int flags = UNICODE | 0x4 | 0x200 | 0x8000 | 0x80000 | 0x800000 | 0x20000000;
        ByteBuffer out = ByteBuffer.allocate(48 + name.length + info.capacity()).order(ByteOrder.LITTLE_ENDIAN);
        out.put("NTLMSSP\0".getBytes(StandardCharsets.US_ASCII)).putInt(2);
        out.putShort((short) name.length).putShort((short) name.length).putInt(48);
        out.putInt(flags).put(CHALLENGE).putLong(0);
        out.putShort((short) info.capacity()).putShort((short) info.capacity()).putInt(48 + name.length);
        return out.put(name).put(info.array()).array();
    }

    /** Whether the third message (MS-NLMP §2.2.1.3) proves the password. */
    private boolean isProven(byte[] message) {
        byte[] proof = field(message, 20);
        String theirDomain = new String(field(message, 28), StandardCharsets.UTF_16LE);
        String theirUser = new String(field(message, 36), StandardCharsets.UTF_16LE);
        if (proof.length <= 24) {
            log.add("an old version");
            return false;
        }
        byte[] rest = Arrays.copyOfRange(proof, 16, proof.length);
        byte[] wanted = proof(key(user, password, theirDomain), CHALLENGE, rest);
        boolean is = theirUser.equalsIgnoreCase(user)
                && theirDomain.equalsIgnoreCase(domain)
                && MessageDigest.isEqual(wanted, Arrays.copyOf(proof, 16));
        log.add(theirDomain + "\\" + theirUser + (is ? " is proven" : " is not"));
        return is;
    }

    private static byte[] field(byte[] message, int at) {
        ByteBuffer b = ByteBuffer.wrap(message).order(ByteOrder.LITTLE_ENDIAN);
        int length = b.getShort(at);
        int from = b.getInt(at + 4);
        return Arrays.copyOfRange(message, from, from + length);
    }

    /** NTOWFv2 (MS-NLMP §3.3.2). */
    static byte[] key(String user, String password, String domain) {
        byte[] text = password.getBytes(StandardCharsets.UTF_16LE);
        MD4Digest md4 = new MD4Digest();
        md4.update(text, 0, text.length);
        byte[] hashed = new byte[16];
        md4.doFinal(hashed, 0);
        return hmac(hashed, (user.toUpperCase(Locale.ROOT) + domain).getBytes(StandardCharsets.UTF_16LE));
    }

    /** NTProofStr (MS-NLMP §3.3.2). */
    static byte[] proof(byte[] key, byte[] challenge, byte[] rest) {
        byte[] all = Arrays.copyOf(challenge, challenge.length + rest.length);
        System.arraycopy(rest, 0, all, challenge.length, rest.length);
        return hmac(key, all);
    }

    private static byte[] hmac(byte[] key, byte[] data) {
        try {
            Mac mac = Mac.getInstance("HmacMD5");
            mac.init(new SecretKeySpec(key, "HmacMD5"));
            return mac.doFinal(data);
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }

    @Override
    public void close() throws IOException {
        listening.close();
    }
}
