package posada.server.workers;

import jakarta.jms.ConnectionFactory;
import org.apache.activemq.artemis.jms.client.ActiveMQConnectionFactory;
import org.springframework.boot.artemis.autoconfigure.ArtemisConfigurationCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.jms.annotation.EnableJms;
import org.springframework.jms.config.DefaultJmsListenerContainerFactory;

/**
 * The broker inside the process and how workers listen to it. It keeps nothing on disk: what waits
 * is in the database, and is sent again after a start.
 */
@Configuration
@EnableJms
class QueueConfiguration {
  @Bean
  ArtemisConfigurationCustomizer broker() {
    return c -> {
      c.setMaxDiskUsage(-1);
      c.getAddressSettings()
          .computeIfAbsent(
              "#", k -> new org.apache.activemq.artemis.core.settings.impl.AddressSettings())
          // The ledger counts attempts; a message may come again as often as the process dies.
          .setMaxDeliveryAttempts(-1);
    };
  }

  /** Listeners are started by hand, after runs have been taken up. */
  @Bean
  DefaultJmsListenerContainerFactory frames(ConnectionFactory connections) {
    if (connections instanceof ActiveMQConnectionFactory artemis) {
      artemis.setConsumerWindowSize(0);
    }
    DefaultJmsListenerContainerFactory f = new DefaultJmsListenerContainerFactory();
    f.setConnectionFactory(connections);
    f.setSessionTransacted(true);
    f.setConcurrency("1");
    f.setAutoStartup(false);
    return f;
  }
}
