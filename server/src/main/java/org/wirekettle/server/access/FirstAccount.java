package org.wirekettle.server.access;

import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.util.Optional;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;
import org.wirekettle.server.common.Home;

/** Makes the account {@code admin} when there is none at all, and says how to log in. */
@ApplicationScoped
public class FirstAccount {
    private static final Logger LOG = Logger.getLogger(FirstAccount.class);
    private static final String ALPHABET = "abcdefghijkmnpqrstuvwxyz23456789";
    private static final int PASSWORD_CHARS = 16;

    void start(
            @Observes StartupEvent event,
            AccessMapper accounts,
            Home home,
            @ConfigProperty(name = "wk.admin.password") Optional<String> given)
            throws IOException {
        if (accounts.countAccounts() > 0) {
            return;
        }
        String password = given.filter(p -> !p.isBlank()).orElseGet(FirstAccount::made);
        accounts.putAccount("admin", Passwords.hash(password), "admin");
        if (given.filter(p -> !p.isBlank()).isEmpty()) {
            Path file = home.root().resolve("first-login.txt");
            Files.createDirectories(home.root());
            Files.deleteIfExists(file);
            Files.createFile(file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
            Files.writeString(file, "name: admin\npassword: " + password + "\n");
            LOG.info("The first account was made. Its name is admin, its password is in " + file);
        }
    }

    private static String made() {
        SecureRandom random = new SecureRandom();
        StringBuilder out = new StringBuilder();
        for (int i = 0; i < PASSWORD_CHARS; i++) {
            out.append(i > 0 && i % 4 == 0 ? "-" : "").append(ALPHABET.charAt(random.nextInt(ALPHABET.length())));
        }
        return out.toString();
    }
}
