package glenmoor.server;

import glenmoor.engine.Engine;
import glenmoor.engine.applications.ConnectorSettings;
import glenmoor.engine.identity.Passwords;
import glenmoor.engine.installation.Installations;
import glenmoor.engine.letters.MailSettings;
import glenmoor.engine.letters.PublicAddress;
import glenmoor.engine.lifecycle.DropDirectory;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.provisioning.Secrets;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Clocks;
import java.nio.file.Path;
import java.time.ZoneId;
import java.util.Optional;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.annotation.Import;

/** The engine, with what it takes from the settings. */
@Configuration(proxyBeanMethods = false)
@Import(Engine.class)
class EngineConfiguration {
  @Bean
  ZoneId zone(ServiceSettings settings) {
    return settings.zone();
  }

  @Bean
  Clock clock(ServiceSettings settings, Clocks clocks) {
    return settings.demoClock().<Clock>map(clocks::movable).orElseGet(clocks::real);
  }

  @Bean
  Passwords.Cost costOfPasswords() {
    return Passwords.Cost.USUAL;
  }

  @Bean
  Secrets secrets(ServiceSettings settings) {
    return Secrets.keyedBy(Path.of(settings.get(Setting.GLENMOOR_KEY_FILE)));
  }

  @Bean
  ConnectorSettings connectorSettings(ServiceSettings settings) {
    return settings.forConnectors();
  }

  @Bean
  Installations.Place installation(ServiceSettings settings) {
    return settings.installation();
  }

  @Bean
  DropDirectory drops(ServiceSettings settings) {
    var directory = settings.get(Setting.GLENMOOR_DROP_DIRECTORY);
    return new DropDirectory(
        directory.isEmpty() ? Optional.empty() : Optional.of(Path.of(directory)));
  }

  @Bean
  MailSettings mail(ServiceSettings settings) {
    return settings.mail();
  }

  @Bean
  PublicAddress address(ServiceSettings settings) {
    return new PublicAddress(settings.get(Setting.GLENMOOR_PUBLIC_URL));
  }

  @Bean
  Planning.SideBySide planners(ServiceSettings settings) {
    return new Planning.SideBySide(Integer.parseInt(settings.get(Setting.GLENMOOR_PLANNERS)));
  }
}
